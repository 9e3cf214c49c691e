"""What was typed and is not kept yet: on the server, so that it outlives a browser, a device and a
restart.
"""
