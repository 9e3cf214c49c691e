"""What is in the food supplies: feeders, salads, supplements and papers, with what takes from them."""
