"""People with accounts: who may sign in, from which devices, and what each of them may do."""
