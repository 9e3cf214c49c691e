"""Courses of treatment in the veterinarian's own words."""
