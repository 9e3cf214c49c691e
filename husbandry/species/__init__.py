"""What species need: profiles as data files, life stages, approaches of practice."""
