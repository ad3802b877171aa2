"""What a guess of a password costs, against the published recommendation."""

from wise_perch.api.auth import hasher


# Biryukov, A., Dinu, D., Khovratovich, D., Josefsson, S. (2021), RFC 9106, Argon2 Memory-Hard Function for
# Password Hashing and Proof-of-Work Applications, section 4, second recommended option: Argon2id with 3
# passes, 4 lanes and 64 MiB (values from memory).
def test_a_guess_costs_what_is_recommended() -> None:
    """Passwords are hashed with argon2id at the recommended cost, each with a salt of its own."""
    first, second = (hasher().hash("tram lights") for _ in range(2))
    assert first.startswith("$argon2id$v=19$m=65536,t=3,p=4$")
    assert first != second
    assert hasher().verify("tram lights", first)
    assert not hasher().verify("tram light", first)
