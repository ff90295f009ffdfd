"""Use cases, one transaction each. They know the core and the store; nobody below knows them."""
