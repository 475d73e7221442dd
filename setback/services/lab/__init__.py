"""What all sections share: long jobs, timers, the finder, pages of one material or printer, the chain of signed records."""
