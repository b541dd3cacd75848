"""One card a stop: its few controls, figures and findings. A card never computes."""
