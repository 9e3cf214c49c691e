"""What is coming: an animal's body on a day to come, its life as rows, the enclosures it will fill,
and the next twelve months of a household.
"""
