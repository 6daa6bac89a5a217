"""Heat: how film shrinks onto a window's glass, where it is pressed on and in which order it is heated."""
