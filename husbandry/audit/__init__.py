"""Looking over the library as a whole: is every profile consistent, complete, honest about its
origins, and in accord with the trade?
"""
