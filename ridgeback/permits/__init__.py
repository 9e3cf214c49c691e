"""Papers of an animal that somebody may ask for: permits, certificates, marks, where it came from."""
