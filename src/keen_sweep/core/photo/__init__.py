"""Pictures: what a file is, reading, writing, the pyramid for looking at them."""
