"""Who may come in: members and their roles, invitations, and personal links for those without an
account.
"""
