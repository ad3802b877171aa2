"""What one computer needs to run the product: its folders, a private PostgreSQL, the built browser side, the
server process.
"""
