"""What leaves on paper: labels, and later certificates. Drawn with our own fonts; nothing is fetched."""
