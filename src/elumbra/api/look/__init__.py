"""Look: every pane judged before the car leaves."""
