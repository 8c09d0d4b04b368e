"""The version of the rules. It is stored with every assessment."""

VERSION = "0.13.0"
