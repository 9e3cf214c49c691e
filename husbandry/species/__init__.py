"""What species need: profiles as data files, life stages, schools of practice."""
