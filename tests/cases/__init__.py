"""Tables of cases that the core's tests and the client's share."""
