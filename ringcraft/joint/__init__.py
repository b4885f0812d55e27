"""A joint before it is soldered: what is seen of it, what to do next, what that costs, what must stay whole.

What is seen is read in one place (:mod:`~ringcraft.joint.views`); each thing that can be done next is one entry of
the registry in :mod:`~ringcraft.joint.actions`, in the order in which they are thought of.
"""
