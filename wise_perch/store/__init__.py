"""PostgreSQL through psycopg: the pool, forward migrations, and one module a subject with its SQL in named
statements.
"""
