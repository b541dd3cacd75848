"""Parts of the window that serve every stop."""
