"""What a walk from an empty shop to a piece made from numbers has in common."""

import tests.browser.test_first_body as first_body


def shop_with(case, walk, names):
    """Set a shop up with its machine, and hang these bits of those that are offered; end on the bench."""
    page = case.page
    page.set_default_timeout(60_000)
    first_body.FirstBody.shop_and_machine(case, walk)
    walk.press(page.get_by_role("link", name="Shop", exact=True))
    walk.press(page.get_by_role("link", name="Look through the bits"))
    walk.panel("the bits that are offered")
    for name in names:
        walk.press(page.get_by_label(name, exact=False).first)
    walk.press(page.get_by_role("button", name=f"These {len(names)} hang here"))
    walk.wait(page.get_by_role("heading", name="The rack"))
    walk.press(page.get_by_role("link", name="Bench"))


def begin(case, walk, name, kind, needed):
    """Open New job, name it and choose what it is; nothing can be made while numbers are missing."""
    page = case.page
    walk.press(page.get_by_role("link", name="New job"))
    walk.panel("a new job")
    walk.type(page.get_by_label("Name of the job"), name, "Tab")
    walk.press(page.get_by_role("radio", name=kind))
    case.assertTrue(page.get_by_role("button", name="Make the job").is_disabled())
    walk.wait(page.get_by_text(f"Drawn once it is known: {needed}"))


def make(case, walk, numbers):
    """Type numbers and make the job."""
    page = case.page
    for label, text in numbers:
        walk.type(page.get_by_label(label, exact=True), text, "Tab")
    walk.wait(page.get_by_role("slider", name="Fret that is looked at"))
    case.assertEqual(case.axe(), [])
    page.wait_for_function("() => !document.querySelector('.go').disabled")
    walk.press(page.get_by_role("button", name="Make the job"))
