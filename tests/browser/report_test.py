#!/usr/bin/python3
"""The report in a real browser: what its replay says, and what people do with it.

report_test.py PROGRAM PLAN: makes a report and walks of the plan with the program, opens the page in headless
Chromium, and holds what the replay says at random moments of every walk to walk.json.
"""

import json
import os
import random
import subprocess
import sys
import tempfile
import unittest

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

PROGRAM, PLAN = sys.argv[1:3] if len(sys.argv) > 2 else ("", "")
WAIT = 60  # seconds at most for what a script does: a watched program may keep the machine busy
MOMENTS = 6  # of each walk


def open_browser(folder, *, scripts=True):
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for argument in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
                     "--disable-background-networking", "--disable-component-update", "--disable-sync",
                     "--window-size=1280,800", "--force-prefers-reduced-motion", f"--user-data-dir={folder}"):
        options.add_argument(argument)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    if not scripts:
        options.add_experimental_option("prefs", {"profile.managed_default_content_settings.javascript": 2})
    return webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=options)


TOWER = """hestrel: 1
devices: {box: {memory: {total: 100}, read: {rate: 100}, frame: {fps: 100}}}
players: {one: {speeds: {walk: 2}}}
waypoints: {a: [0, 0, 0], b: [20, 0, 0]}
paths: [[a, b]]
levels:
  hall: {memory: {t: 1}, area: {min: [0, 0, 0], max: [20, 5, 9]}}
  loft: {memory: {t: 1}, area: {min: [4, 5, 2], max: [12, 9, 7]}}
routes: {r: {start: {level: hall, waypoint: a}, steps: [{go: b}]}}
"""


# Texts outside of figures with too little contrast to what is behind them (WCAG 2.1, 1.4.3), each with its ratio.
FAINT_TEXTS = """
const parts = (colour) => colour.match(/[0-9.]+/g).map(Number);
const light = (colour) => {
  const [r, g, b] = parts(colour).slice(0, 3).map((part) => part / 255)
    .map((part) => part <= 0.03928 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4);
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
const behind = (element) => {
  for (let at = element; at; at = at.parentElement) {
    const colour = getComputedStyle(at).backgroundColor;
    if (parts(colour).length === 3 || parts(colour)[3] > 0) return colour;
  }
  return getComputedStyle(document.body).backgroundColor;
};
const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
const faint = [];
let looked = 0;
while (texts.nextNode()) {
  const element = texts.currentNode.parentElement;
  const text = texts.currentNode.data.trim();
  if (!text || element.closest('svg, script, select:disabled, button:disabled') || element.offsetParent === null) continue;
  const style = getComputedStyle(element);
  const size = parseFloat(style.fontSize);
  const least = size >= 24 || (size >= 18.66 && style.fontWeight >= 700) ? 3 : 4.5;
  const pair = [light(style.color), light(behind(element))].sort((one, other) => other - one);
  const ratio = (pair[0] + 0.05) / (pair[1] + 0.05);
  ++looked;
  if (ratio < least) faint.push(ratio.toFixed(2) + ' ' + text.slice(0, 60));
}
return [looked, faint];
"""


class Said:
    """What walk.json says of a moment (microseconds)."""

    def __init__(self, path):
        with open(path, encoding="utf-8") as file:
            self.walk = json.load(file)
        self.events = [(round(event["time_s"] * 1e6), event) for event in self.walk["events"]]

    def end(self):
        return round(self.walk["end_s"] * 1e6)

    def memory(self, moment):
        rows = [row for row in self.walk["memory"] if round(row["time_s"] * 1e6) <= moment]
        return rows[-1]["total_mib"] if rows else 0

    def shown(self, moment):
        shown = set()
        for at, event in self.events:
            if at > moment:
                break
            if event["event"] == "shown":
                shown.add(event["subject"])
            elif event["event"] in ("hidden", "unloaded"):
                shown.discard(event["subject"])
        return shown

    def place(self, player, moment):
        """[x, y, z], where a track or what came before it says so; else None."""
        place = None
        for track in self.walk["tracks"]:
            begins, ends = (round(track[name] * 1e6) for name in ("from_s", "to_s"))
            if track["player"] != player or begins > moment:
                continue
            if moment >= ends:
                place = (ends, track["to"])
                continue
            share = (moment - begins) / (ends - begins)
            place = (moment, [a + (b - a) * share for a, b in zip(track["from"], track["to"])])
        placed = [at for at, event in self.events
                  if at <= moment and ((event["event"] == "placed" and event["subject"] == player)
                                       or event["event"] == "launched")]
        if place is None or (placed and placed[-1] >= place[0]):
            return None  # only the plan says where that is
        return place[1]


class ReportTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = tempfile.TemporaryDirectory()
        cls.walks = os.path.join(cls.folder.name, "walks")
        cls.page = os.path.join(cls.folder.name, "report.html")
        one_carrier = ["--set", "players.carrier.count=1"]  # there is less to explore
        for command in (["walk", PLAN, "--json", "--no-figures", "--quiet", "--out", cls.walks],
                        ["report", PLAN, "--quiet", "--out", cls.page]):
            done = subprocess.run([PROGRAM] + command + one_carrier, capture_output=True, text=True, check=False)
            assert done.returncode in (0, 1), done.stderr
        cls.browser = open_browser(os.path.join(cls.folder.name, "browser"))
        cls.random = random.Random(7)

    @classmethod
    def tearDownClass(cls):
        cls.browser.quit()
        cls.folder.cleanup()

    def setUp(self):
        self.open()

    def tearDown(self):
        # Nothing goes wrong, and nothing is asked for.
        self.assertEqual(self.browser.get_log("browser"), [])
        asked = self.browser.execute_script("return performance.getEntriesByType('resource').map((each) => each.name)")
        self.assertEqual(asked, [])

    # --- the page -------------------------------------------------------------

    def open(self, address=""):
        self.browser.get("about:blank")
        self.browser.get(f"file://{self.page}{address}")
        self.wait(lambda: self.root().get_attribute("data-moment") is not None)

    def wait(self, until):
        return WebDriverWait(self.browser, WAIT, poll_frequency=0.05).until(lambda _: until())

    def find(self, selector):
        return self.browser.find_element(By.CSS_SELECTOR, selector)

    def all(self, selector):
        return self.browser.find_elements(By.CSS_SELECTOR, selector)

    def root(self):
        return self.find("#replay")

    def moment(self):
        return int(self.root().get_attribute("data-moment"))

    def scale(self):
        return float(self.root().get_attribute("data-scale"))

    def walk(self):
        return self.root().get_attribute("data-walk")

    def choose(self, route, device):
        Select(self.find("#route")).select_by_visible_text(route)
        self.wait(lambda: self.root().get_attribute("data-moment") is not None)
        Select(self.find("#device")).select_by_visible_text(device)
        self.wait(lambda: self.walk() == f"{route}--{device}")

    def seek(self, moment):
        """As the slider does it."""
        self.browser.execute_script(
            "const time = document.getElementById('time'); time.step = 1; time.value = arguments[0];"
            "time.dispatchEvent(new Event('input'));", moment)
        self.assertEqual(self.moment(), moment)

    def press(self, *keys):
        self.browser.execute_script("document.activeElement.blur()")
        for key in keys:
            ActionChains(self.browser).send_keys(key).perform()

    def said(self, selector):
        return self.browser.execute_script(
            "return [...document.querySelectorAll(arguments[0])].map((each) => each.textContent)", selector)

    # --- what it says ---------------------------------------------------------

    def hold_to(self, said, number, moment):
        machine = f"#machines .machine:nth-child({number + 1}) "
        size = int(self.find(machine + ".total").get_attribute("data-bytes"))
        self.assertAlmostEqual(size / 1048576, said.memory(moment), places=3)
        names = set(", ".join(self.said(machine + ".shown li")).split(", "))
        cells = {name for name in said.shown(moment) if self.is_cell(name)}
        expected = said.shown(moment) - cells
        counted = {f"{len(cells)} cell" + ("" if len(cells) == 1 else "s")} if cells else set()
        self.assertEqual(names - {""}, expected | counted)
        for line in self.said(machine + ".players li"):
            player = line.split(":")[0]
            place = said.place(player, moment)
            if place is None:
                continue
            where = line[line.index("; at ") + 5:].split(" in world")[0].split(", ")[:3]
            for one, other in zip(where, place):
                self.assertAlmostEqual(float(one), other, delta=0.0051)

    def is_cell(self, name):
        return name.rsplit("-", 2)[0] == "fishing-ground" and name.count("-") == 3

    def test_it_says_what_walk_json_says_at_any_moment(self):
        compared = 0
        for source in self.all("script.walk-data"):
            walk, route, on = (source.get_attribute("data-" + name) for name in ("id", "route", "on"))
            folder = os.path.join(self.walks, walk)
            machines = [os.path.join(folder, "walk.json")]
            if not os.path.exists(machines[0]):  # a session: in the order of its machines
                with open(os.path.join(folder, "machines.csv"), encoding="utf-8") as file:
                    rows = [line.split(",") for line in file.read().splitlines()]
                column = rows[0].index("machine")
                names = list(dict.fromkeys(row[column] for row in rows[1:]))
                there = [name for name in names if os.path.exists(os.path.join(folder, name, "walk.json"))]
                machines = [os.path.join(folder, name, "walk.json") for name in there]
            self.choose(route, on)
            all_said = [Said(path) for path in machines]
            end = max(said.end() for said in all_said)
            for _ in range(MOMENTS):
                moment = self.random.randrange(end)
                self.seek(moment)
                headings = self.said("#machines .machine h3")
                for said in all_said:
                    number = 0
                    if headings:
                        name = said.walk["machine"]
                        number = next(i for i, text in enumerate(headings) if text.startswith(name + " ("))
                    if moment < said.end():
                        with self.subTest(walk=walk, moment=moment, machine=number):
                            self.hold_to(said, number, moment)
                            compared += 1
        self.assertGreater(compared, MOMENTS * 20)

    # --- what people do -------------------------------------------------------

    def test_it_plays_and_stops(self):
        self.assertEqual(self.moment(), 0)
        Select(self.find("#speed")).select_by_visible_text("50×")
        self.find("#play").click()
        self.wait(lambda: self.moment() > 5_000_000)
        self.assertEqual(self.find("#play").text, "Pause")
        self.find("#play").click()
        stopped = self.moment()
        self.assertEqual(self.find("#play").text, "Play")
        self.assertEqual(self.moment(), stopped)
        self.press(Keys.END)
        end = self.moment()
        self.press(" ")  # from the beginning again, to the end
        self.wait(lambda: self.find("#play").text == "Play" and self.moment() == end)

    def test_keys_move_through_time_and_zoom(self):
        self.press(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT, ".")
        self.assertEqual(self.moment(), 2_100_000)
        self.press(Keys.ARROW_LEFT, ",")
        self.assertEqual(self.moment(), 1_000_000)
        self.press(Keys.HOME, "n")
        first = self.moment()
        fired = [int(each) for each in self.browser.execute_script(
            "return [...document.querySelectorAll('#transitions .go')].map((each) => each.dataset.moment)")]
        self.assertEqual(first, min(each for each in fired if each > 0))
        self.press("n")
        self.assertEqual(self.moment(), min(each for each in fired if each > first))
        self.press("p")
        self.assertEqual(self.moment(), first)
        before = self.scale()
        self.press("+")
        self.assertAlmostEqual(self.scale() / before, 1.5, places=3)
        self.press("-", "-")
        self.assertAlmostEqual(self.scale() / before, 1 / 1.5, places=3)
        self.press("0")
        self.assertFalse(self.find("#follow").is_selected())

    def test_the_map_is_zoomed_by_the_wheel_and_moved_by_dragging(self):
        self.find("#whole").click()
        canvas = self.find("#machines canvas")
        scale, middle = self.scale(), self.root().get_attribute("data-middle")
        ActionChains(self.browser).click_and_hold(canvas).move_by_offset(60, 20).release().perform()
        x, z = (float(each) for each in self.root().get_attribute("data-middle").split())
        was_x, was_z = (float(each) for each in middle.split())
        self.assertAlmostEqual(was_x - x, 60 / scale, delta=0.01)
        self.assertAlmostEqual(was_z - z, 20 / scale, delta=0.01)
        self.browser.execute_script(
            "arguments[0].dispatchEvent(new WheelEvent('wheel', {deltaY: -300, cancelable: true, bubbles: true}))", canvas)
        self.assertGreater(self.scale(), scale)
        self.find("#farther").click()
        self.find("#whole").click()
        self.assertAlmostEqual(self.scale(), scale, places=4)

    def test_it_is_chosen_and_kept_in_the_address(self):
        self.choose("two-carriers", "console")
        self.seek(50_000_000)
        address = self.browser.execute_script("return location.hash")
        self.assertEqual(address, "#two-carriers--console@50.000")
        self.assertEqual(len(self.said("#machines .players li")), 2)
        self.open("#hurried-round--handheld@12.5")
        self.assertEqual((self.walk(), self.moment()), ("hurried-round--handheld", 12_500_000))
        self.choose("pair-online", "console+handheld")
        self.assertEqual(len(self.all("#machines .machine")), 2)

    def test_findings_and_transitions_and_bars_lead_to_their_moments(self):
        link = next(each for each in self.all("#findings .where a") if "@" in each.get_attribute("href"))
        address = link.get_attribute("href").split("#")[1]
        self.browser.execute_script("arguments[0].click()", link)
        walk, at = address.split("@")
        self.wait(lambda: self.walk() == walk)
        self.wait(lambda: self.moment() == round(float(at) * 1e6))
        row = self.all("#transitions tbody tr")[-1]
        self.browser.execute_script("arguments[0].querySelector('.go').click()", row)
        self.assertEqual(self.moment(), int(row.find_element(By.CSS_SELECTOR, ".go").get_attribute("data-moment")))
        self.assertIn("now", row.get_attribute("class").split())
        # A bar of a strip: its beginning; between bars: the moment.
        found = self.browser.execute_script("""
            const canvas = document.querySelector('#strips canvas');
            const drawn = replay.strips[0].drawn;
            const spot = drawn.spots.filter(([left, , right]) => right - left > 40).pop();
            const rect = canvas.getBoundingClientRect();
            const x = (spot[0] + spot[2]) / 2, y = (spot[1] + spot[3]) / 2;
            canvas.dispatchEvent(new PointerEvent('pointerdown',
                {pointerId: 1, clientX: rect.left + x, clientY: rect.top + y, bubbles: true}));
            return [spot[5], Number(document.getElementById('replay').dataset.moment)];""")
        self.assertEqual(found[0], found[1])

    def test_filters_leave_out_what_is_about_others(self):
        rows = len(self.said("#loads tbody tr"))
        Select(self.find("#level")).select_by_visible_text("lamp-room")
        visible = self.browser.execute_script(
            "return [...document.querySelectorAll('#loads tbody tr')].filter((row) => !row.hidden).map((row) => row.dataset.levels)")
        self.assertEqual(set(visible), {"lamp-room"})
        self.assertLess(len(visible), rows)
        self.assertIn("left out", self.find("#filtered").text)
        Select(self.find("#level")).select_by_visible_text("all")
        Select(self.find("#owner")).select_by_index(1)
        owner = Select(self.find("#owner")).first_selected_option.text
        owners = self.browser.execute_script(
            "return [...document.querySelectorAll('#findings li')].filter((each) => !each.hidden).map((each) => each.dataset.owner)")
        self.assertLessEqual(set(owners), {owner, ""})
        Select(self.find("#owner")).select_by_visible_text("all")
        self.assertEqual(self.browser.execute_script("return document.querySelectorAll('[data-levels][hidden]').length"), 0)

    def test_worlds_are_looked_at_one_by_one(self):
        self.open("#first-round--handheld@0")
        world = Select(self.find("#world"))
        self.assertEqual(len(world.options), 2)
        before = self.root().get_attribute("data-middle")
        self.find("#whole").click()
        world.select_by_index(1)
        self.assertNotEqual(self.root().get_attribute("data-middle"), before)
        self.assertIn("world mail-tunnel" if "tunnel" in world.options[1].text else world.options[1].text,
                      self.find("#machines canvas").get_attribute("aria-label"))

    def test_tables_sort_and_the_index_follows(self):
        head = self.find("#routes th[data-column='10'] button")
        self.browser.execute_script("arguments[0].scrollIntoView({block: 'center', behavior: 'instant'})", head)
        head.click()
        peaks = [float(each) for each in self.browser.execute_script(
            "return [...document.querySelectorAll('#routes tbody tr')].map((row) => row.cells[10].dataset.sort)")]
        self.assertEqual(peaks, sorted(peaks))
        self.assertGreater(len(set(peaks)), 3)
        self.wait(lambda: self.said("#index a[aria-current]") != ["Replay"])

    def test_nothing_is_wider_than_the_window(self):
        for width in (1280, 800, 420):
            self.browser.set_window_size(width, 800)
            self.wait(lambda: self.browser.execute_script(
                "return document.documentElement.scrollWidth <= document.documentElement.clientWidth"))
        self.browser.set_window_size(1280, 800)

    def test_a_change_stands_on_top_and_either_plan_is_replayed(self):
        page = os.path.join(self.folder.name, "change.html")
        done = subprocess.run([PROGRAM, "report", PLAN, "--quiet", "--no-figures", "--out", page, "--device", "handheld",
                               "--route", "first-round", "--set", "devices.handheld.memory.total=1900 MiB",
                               "--compare", PLAN], capture_output=True, text=True, check=False)
        self.assertIn(done.returncode, (0, 1), done.stderr)
        self.browser.get("about:blank")
        self.browser.get(f"file://{page}#first-round--handheld@124.8")
        self.wait(lambda: self.root().get_attribute("data-moment") == "124800000")
        self.assertEqual(self.find("main > section").get_attribute("id"), "change")
        self.assertIn("devices.handheld.memory.total", " ".join(self.said("#change td, #change th")))
        self.assertIn("of 1,900 MiB", self.find("#machines .total").text)
        Select(self.find("#version")).select_by_visible_text("before the change")
        self.wait(lambda: self.root().get_attribute("data-version") == "before")
        self.wait(lambda: "of 1,536 MiB: over budget" in self.find("#machines .total").text)
        self.assertEqual(self.moment(), 124_800_000)
        self.assertEqual(self.browser.execute_script("return location.hash"), "#before:first-round--handheld@124.800")
        self.browser.get("about:blank")
        self.browser.get(f"file://{page}#before:first-round--handheld@10")
        self.wait(lambda: self.root().get_attribute("data-version") == "before")

    def test_floors_are_looked_at_one_by_one(self):
        plan = os.path.join(self.folder.name, "tower.yaml")
        page = os.path.join(self.folder.name, "tower.html")
        with open(plan, "w", encoding="utf-8") as file:
            file.write(TOWER)
        done = subprocess.run([PROGRAM, "report", plan, "--quiet", "--no-figures", "--out", page],
                              capture_output=True, text=True, check=False)
        self.assertIn(done.returncode, (0, 1), done.stderr)
        self.browser.get("about:blank")
        self.browser.get(f"file://{page}#r--box@5")
        self.wait(lambda: self.root().get_attribute("data-moment") == "5000000")
        floor = Select(self.find("#floor"))
        self.assertEqual([each.text for each in floor.options], ["all", "below 5 m", "above 5 m"])
        pictures = set()
        for number in range(3):
            floor.select_by_index(number)
            pictures.add(self.browser.execute_script("return document.querySelector('#machines canvas').toDataURL()"))
        self.assertEqual(len(pictures), 3)

    def test_texts_have_contrast(self):
        self.open("#first-round--handheld@124.8")
        for scheme in ("light", "dark"):
            self.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {
                "features": [{"name": "prefers-color-scheme", "value": scheme}]})
            looked, faint = self.browser.execute_script(FAINT_TEXTS)
            self.assertGreater(looked, 500)
            self.assertEqual(faint, [], scheme)
        self.browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})

    def test_without_scripts_it_says_so_and_shows_stills(self):
        plain = open_browser(os.path.join(self.folder.name, "plain"), scripts=False)
        try:
            plain.get(f"file://{self.page}")
            self.assertTrue(plain.find_element(By.CSS_SELECTOR, ".unscripted").is_displayed())
            self.assertFalse(plain.find_element(By.CSS_SELECTOR, "#replay .replay").is_displayed())
            self.assertGreater(len(plain.find_elements(By.CSS_SELECTOR, "#walks svg")), 9)
        finally:
            plain.quit()


if __name__ == "__main__":
    unittest.main(argv=sys.argv[:1] + sys.argv[3:])
