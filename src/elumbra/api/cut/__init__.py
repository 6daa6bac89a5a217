"""Cut plans: asked for, looked at, printed."""
