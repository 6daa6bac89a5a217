"""The job as its screens show it, for every feature that answers with one."""
