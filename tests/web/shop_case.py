"""What tests over an empty shop share: a server of their own and a way to ask it."""

import unittest

from tests.support import LiveServer


class ShopCase(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)

    def call(self, method, path, body=None):
        return self.server.call(method, f"/api/{path}", body)
