"""The version, once: the package, the project file and the job files take it from here."""

VERSION = "0.6.0"
