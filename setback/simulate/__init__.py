"""Small simulated stand-ins for what happens at the printer."""
