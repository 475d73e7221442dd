"""What becomes of prints: planned, printed, logged, printed virtually, and the gates they leave."""
