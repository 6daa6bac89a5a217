"""The practice glass: lessons, runs, replays, who may shrink what alone."""
