"""Being at the machine: what is done one after another, and the events from which it is worked out how far a run is."""
