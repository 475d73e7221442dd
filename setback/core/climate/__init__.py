"""Temperature: how thick resin is, how a chamber and a bottle warm, and what cold does to prints."""
