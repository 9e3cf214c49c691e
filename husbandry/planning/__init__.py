"""From a request to a plan: what is needed, what will happen, what to change."""
