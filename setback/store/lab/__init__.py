"""The finder, timers, settings of the lab, pages, and rows of bundles."""
