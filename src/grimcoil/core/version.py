"""The version of the rules. It is stored with every assessment."""

VERSION = "0.24.0"
