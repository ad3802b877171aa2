"""One module per test protocol: tries in, result and decision out."""
