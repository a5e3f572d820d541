"""The client's pure files on an empty page: transpiled by the client's own TypeScript, served by nobody but the
test."""

import json
import shutil
import subprocess
import unittest

from playwright.sync_api import sync_playwright

from tests.browser.test_screens import ARGUMENTS
from tests.support import ROOT

CLIENT = ROOT / "client"
HOME = "http://pure.test/"
TRANSPILE = """
import { readFileSync } from 'node:fs'
import ts from 'typescript'
const options = { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ES2022, verbatimModuleSyntax: false }
const out = {}
for (const path of process.argv.slice(1)) {
  out[path] = ts.transpileModule(readFileSync(path, 'utf8'), { compilerOptions: options }).outputText
}
process.stdout.write(JSON.stringify(out))
"""
FILES = (
    "units/few.ts",
    "units/say.ts",
    "units/read.ts",
    "units/format.ts",
    "units/sums.ts",
    "section/line.ts",
    "section/section.ts",
    "trunk/trunk.ts",
    "layout/rim.ts",
    "layout/near.ts",
    "layout/zoom.ts",
    "wood/view.ts",
    "wood/lies.ts",
    "wood/target.ts",
    "wood/differ.ts",
)


def transpiled() -> dict[str, str]:
    """Return the JavaScript of the pure files by path without its ending."""
    line = ["node", "--input-type=module", "-e", TRANSPILE, *(f"src/{f}" for f in FILES)]
    done = subprocess.run(line, cwd=CLIENT, capture_output=True, text=True, check=True)
    return {path.removeprefix("src/").removesuffix(".ts"): text for path, text in json.loads(done.stdout).items()}


class PurePage(unittest.TestCase):
    """A page that has the client's pure modules and nothing else; self.run(module, body, argument) calls into them."""

    @classmethod
    def setUpClass(cls):
        cls.scripts = transpiled()
        cls.scripts["vue"] = (CLIENT / "node_modules/vue/dist/vue.runtime.esm-browser.prod.js").read_text()
        cls.playwright = sync_playwright().start()
        cls.addClassCleanup(cls.playwright.stop)
        program = shutil.which("chromium") or "/usr/bin/chromium"
        cls.browser = cls.playwright.chromium.launch(executable_path=program, args=ARGUMENTS)
        cls.addClassCleanup(cls.browser.close)
        cls.page = cls.browser.new_page()
        cls.page.route("**/*", cls._answer)
        cls.page.goto(HOME)

    @classmethod
    def _answer(cls, route):
        name = route.request.url.removeprefix(HOME)
        if not name:
            imports = json.dumps({"imports": {"vue": "/vue"}})
            head = f'<meta charset="utf-8"><script type="importmap">{imports}</script>'
            route.fulfill(body=f"<!doctype html>{head}", content_type="text/html")
        elif name in cls.scripts:
            route.fulfill(body=cls.scripts[name], content_type="text/javascript; charset=utf-8")
        else:
            route.fulfill(status=404)

    def called(self, module, body, argument=None):
        """Return what a function body says with the module as `m` and an argument as `a`."""
        script = f"async (a) => {{ const m = await import('/{module}'); {body} }}"
        return self.page.evaluate(script, argument)
