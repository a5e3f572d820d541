"""Edit, undo, redo and what follows a conflict stand in one queue: pressed at once, made one after another."""

from tests.browser.test_screens import Browser
from tests.support import route_named


class Queue(Browser):
    def setUp(self):
        super().setUp()
        self.route = self.new_route(route_named("control_plate"))
        self.page.goto(f"{self.server.url}/routes/{self.route}/blank")
        self.weight = self.page.get_by_label("The blank weighs")
        self.weight.wait_for()

    def blank(self):
        return self.server.call("GET", f"/api/routes/{self.route}")[1]["document"]["blank"]

    def revision(self):
        return self.server.call("GET", f"/api/routes/{self.route}")[1]["revision"]

    def wait_revision(self, number):
        for _ in range(300):
            if self.revision() >= number:
                return
            self.page.wait_for_timeout(100)
        self.fail(f"revision {number} did not come")

    def type_weight(self, text):
        self.weight.fill(text)
        self.weight.press("Enter")

    def wait_weight(self, text):
        self.page.wait_for_function(
            "([box, text]) => box.value === text && !document.querySelector('.told[role=alert]')",
            arg=[self.weight.element_handle(), text],
        )

    def test_edits_and_an_undo_pressed_without_waiting_are_made_in_their_order(self):
        before = self.revision()
        self.type_weight("0.31")
        self.type_weight("0.32")
        self.type_weight("0.33")
        self.page.get_by_role("button", name="Undo").click()
        self.page.get_by_role("button", name="Undo").click()
        self.page.get_by_role("button", name="Redo").click()
        # the field showed 0.32 on the way as well: what counts is how it stands after all six
        self.wait_revision(before + 6)
        self.wait_weight("0.32")
        self.assertEqual(self.blank()["weighed_kg"], 0.32)

    def test_what_a_conflict_overtook_is_not_made_and_mine_goes_on_top(self):
        revision = self.revision()
        other = {"revision": revision, "edits": [{"do": "set", "path": "job", "value": "Plate of another hand"}]}
        self.assertEqual(self.server.call("POST", f"/api/routes/{self.route}/edits", other)[0], 200)
        self.type_weight("0.4")
        self.page.get_by_role("button", name="Keep theirs").wait_for()
        self.type_weight("0.5")
        self.page.get_by_role("button", name="Make mine on top").click()
        self.wait_weight("0.4")
        state = self.server.call("GET", f"/api/routes/{self.route}")[1]["document"]
        self.assertEqual((state["job"], state["blank"]["weighed_kg"]), ("Plate of another hand", 0.4))
