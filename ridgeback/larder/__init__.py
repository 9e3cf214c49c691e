"""What is in the larder: feeders, salads, supplements and papers, with what takes from them."""
