"""The demo shoot: the Orrin Vale garden guide. How its pictures were made: docs/demo.md."""
