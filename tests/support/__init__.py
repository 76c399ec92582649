"""What several tests share, each thing once."""
