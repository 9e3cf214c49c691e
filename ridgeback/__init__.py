"""The web application: thin rooms around the core in `husbandry`."""
