"""Where one trainee stands on one day, and what that asks for."""
