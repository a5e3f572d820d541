"""The shop itself: its machines, figure by figure."""
