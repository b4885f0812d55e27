"""The drawer: pieces of stock, the movements that they are the sum of, what is cut and melted from them."""
