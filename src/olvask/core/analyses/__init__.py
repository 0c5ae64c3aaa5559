"""Questions asked of whole designs, many solves each."""
