"""Commands that go before Django's own."""
