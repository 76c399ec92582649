"""What goes out: JPEG without loss, files for the web, the layered file, the ledger, and how a file tells of it."""
