"""The mill: passes and anneals from a bar to a wire or a strip, and a bar thinned in one place. Volume is kept."""
