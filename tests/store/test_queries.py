import unittest

from birch_route.core.errors import StoreError
from birch_route.store.database import Database, migrate
from birch_route.store.named import parse_queries, queries
from tests.support import ROOT, live_server


class Named(unittest.TestCase):
    def test_a_bad_header_a_missing_description_or_two_statements_fail(self):
        for text in ("-- name: a\n-- Says.\nselect 1;", "-- name: a -> one\nselect 1;", "-- name: a -> one\n-- Says.\nselect 1; select 2;", "-- name: a -> one\n-- Says.\nselect 1"):
            with self.subTest(text), self.assertRaises(StoreError):
                parse_queries(text, "x.sql")

    def test_every_query_defined_is_used_and_every_one_used_is_defined(self):
        import re
        used = set()
        for path in (ROOT / "src").rglob("*.py"):
            used |= set(re.findall(r'\bt(?:ransaction)?\.(?:one|maybe|all|do)\(\s*"([a-z_]+)"', path.read_text()))
        self.assertEqual(used, set(queries()))


class AgainstPostgres(unittest.TestCase):
    def setUp(self):
        server = live_server()
        self.database = Database(server.database_url, most=2)
        self.database.open()
        self.addCleanup(self.database.close)

    def test_postgres_can_plan_every_query(self):
        import re
        for query in queries().values():
            if query.sql.lower().startswith("create"):
                continue
            sql = re.sub(r"%\(([a-z_]+)\)s", "null", query.sql).replace("%%", "%")
            with self.subTest(query.name), self.database.transaction() as t:
                t.connection.execute("explain " + sql)

    def test_migrations_are_applied_once(self):
        self.assertEqual(migrate(self.database), [])

    def test_a_broken_constraint_is_named(self):
        with self.assertRaises(StoreError) as caught, self.database.transaction() as t:
            t.one("add_job", name="", note="")
        self.assertEqual(caught.exception.facts["constraint"], "job_name_filled")
