"""The species guide: species to look for, to compare and to weigh up; and the household's own values of
their profiles.
"""
