"""What set-up fetches from registries; the application itself fetches nothing."""
