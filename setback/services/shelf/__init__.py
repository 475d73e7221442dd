"""The shelf: add, edit, retire and bring back what the shop has."""
