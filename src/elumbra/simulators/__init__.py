"""Stand-ins for devices, each a small process of its own; they share no code with their clients."""
