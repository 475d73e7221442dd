"""Who may do what in a workshop of several people, and how long a sign-in lasts."""
