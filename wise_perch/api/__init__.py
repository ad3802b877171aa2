"""FastAPI: asks the store for evidence, hands it to the core, and returns what the core says."""
