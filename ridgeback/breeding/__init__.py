"""Clutches and young to come, from laying to hatchlings with their own books."""
