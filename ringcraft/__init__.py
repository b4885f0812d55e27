"""The heart of Plain Shank: what a bench jeweler works out, as pure functions.

No web, no database, no clock, no network, no files but its own tables. A request goes in as a
frozen dataclass, a frozen result with its reasons comes out; anything that cannot be worked out
is a :class:`ringcraft.errors.CraftError` naming the field in the craft's words.
"""

__version__ = "0.4.0"
