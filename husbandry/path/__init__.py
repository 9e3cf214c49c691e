"""What is coming: an animal's body on a day to come, its life as ribbons, the boxes it will fill, and the next twelve months of a household."""
