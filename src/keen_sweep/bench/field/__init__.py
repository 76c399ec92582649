"""The field bench: hurried marks over real things in real photographs."""
