"""The demo: Fenmark, a beet-sugar works that doesn't exist, in its campaign stop. All figures are invented."""
