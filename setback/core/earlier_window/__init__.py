"""The earlier method of the process window: campaigns and issued sets still rest on it until they are moved to :mod:`setback.core.window`."""
