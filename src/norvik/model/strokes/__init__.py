"""How each stroke moves the body: one file a stroke, one function from instants to joints."""
