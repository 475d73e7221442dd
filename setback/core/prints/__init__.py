"""What prints of real parts tell: how they came out, against the settings and conditions they were printed with."""
