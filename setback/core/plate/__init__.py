"""How evenly the plate is lit."""
