"""The size region: which whole-number sizes (w, h) a brief leaves, exactly."""
