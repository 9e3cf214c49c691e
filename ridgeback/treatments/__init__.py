"""Treatments in the veterinarian's own words."""
