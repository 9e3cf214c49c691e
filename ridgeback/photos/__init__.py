"""Pictures of animals, made small and without the place where they were taken."""
