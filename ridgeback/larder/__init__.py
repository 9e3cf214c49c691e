"""What is in the larder: feeders, salads, powders and papers, with what takes from them."""
