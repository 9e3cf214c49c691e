"""What instruments wrote over time: channels, their samples, and the files they came in."""
