"""Routes of calibrations and their stages."""
