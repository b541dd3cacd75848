"""The 3D view: a render server in its own process, its scene, and the widget that paints its frames."""
