"""The HTTP interface: routers, schemas, events. Nothing is computed here."""
