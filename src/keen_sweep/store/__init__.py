"""What is kept: one library folder with a database and content-addressed files."""
