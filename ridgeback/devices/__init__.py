"""Devices that send what they measure: their tokens, their channels, and the interface they use."""
