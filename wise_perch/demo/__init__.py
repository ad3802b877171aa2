"""The made-up hall: a converted tram depot in an invented town, its coach, its trainees and their history."""
