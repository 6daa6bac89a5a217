"""The shop's own figures, body styles and the states on file."""
