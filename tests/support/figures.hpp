#pragma once
// Plans to draw, and what every figure must keep to.

#include "figure/sheet.hpp"
#include "figure/svg.hpp"
#include "support/plan_text.hpp"
#include "support/program.hpp"

#include <cmath>
#include <numbers>
#include <string>

namespace hestrel::tests {

/// `count` levels in rows of twenty, 50 m apart, each with an area, a sublevel, and a trigger that
/// shows the next; a route past all of them, in which the first levels are shown late.
inline std::string grid_plan(int count, const std::string& name = "Grid") {
    constexpr int columns = 20;
    std::string levels;
    std::string ways;
    std::string paths;
    std::string triggers;
    std::string steps;
    for (int i = 0; i < count; ++i) {
        const int x = i % columns * 50;
        const int z = i / columns * 50;
        levels += fmt::format("  level{}:\n    title: Level number {}\n    memory: {{texture: {}, "
                              "geometry: {}}}\n    objects: 200\n    kits: [common]\n    entries: "
                              "{{door: way{}}}\n    area: {{min: [{}, -1, {}], max: [{}, 5, "
                              "{}]}}\n    sublevels: {{part{}: {{with-parent: true, memory: "
                              "{{geometry: 1}}}}}}\n",
                              i, i, 10 + i % 30, 5 + i % 7, i, x, z, x + 45, z + 45, i);
        ways += fmt::format("  way{}: [{}, 0, {}]\n", i, x + 20, z + 20);
        if (i == 0) continue;
        paths += fmt::format("  - [way{}, way{}]\n", i - 1, i);
        triggers += fmt::format("  go{}: {{box: {{min: [{}, -1, {}], max: [{}, 3, {}]}}, steps: "
                                "[{{show: [level{}]}}]}}\n",
                                i, x - 40, z + 10, x - 38, z + 30, i);
        steps += fmt::format("{}{{go: way{}}}", steps.empty() ? "" : ", ", i);
    }
    return fmt::format(
        "hestrel: 1\nname: {}\ndevices:\n  box:\n    memory: {{total: 1 GiB, base: 300, pools: "
        "{{texture: 600}}}}\n    read: {{rate: 20, latency: 1 ms, parallel: 4}}\n    unpack: "
        "{{rate: 30, workers: 2}}\n    frame: {{fps: 60, base: 8 ms, attach: 3 ms}}\n    attach: "
        "{{fixed: 1 ms, per-object: 1 us}}\nkits:\n  common: {{memory: {{texture: "
        "40}}}}\nlevels:\n{}waypoints:\n{}paths:\n{}triggers:\n{}players: {{walker: {{speeds: "
        "{{run: 25}}}}}}\nroutes:\n  all: {{start: {{level: level0, at: door}}, steps: [{}]}}\n",
        name, levels, ways, paths, triggers, steps);
}

/// A name that would break out of any markup, string or command, as YAML.
constexpr std::string_view nasty_name =
    R"("<b>\"&amp;</title><script>alert(1)</script>\\n \\ `touch hacked` $(touch hacked) it's\nnew line \u0001 é Ωμέγα 湖")";

/// The demo plan, as it ships.
inline plan::Plan demo_plan() {
    source::RealDisk disk;
    source::PlanReading reading = source::read_plan(
        disk, std::string(HESTREL_SOURCE) + "/examples/glasswater/glasswater.yaml");
    REQUIRE(reading.findings.empty());
    return std::move(reading.plan);
}

/// All texts stand on the sheet and none over another; what says more lies on the sheet too.
inline void check_sheet(const figure::Figure& figure) {
    const figure::Sheet& sheet = figure.sheet;
    CAPTURE(figure.title);
    CHECK_FALSE(figure.title.empty());
    CHECK_FALSE(figure.description.empty());
    std::string off;
    std::string over;
    const auto& texts = sheet.texts();
    for (std::size_t i = 0; i < texts.size(); ++i) {
        figure::Extent one = figure::extent_of(texts[i]);
        if (one.from.x < 0 || one.from.y < 0 || one.to.x > sheet.width() ||
            one.to.y > sheet.height())
            off += texts[i].text + "; ";
        // Letters do not fill the room of a line.
        one.from.y += 1.5;
        one.to.y -= 1.5;
        for (std::size_t j = i + 1; j < texts.size(); ++j) {
            if (texts[i].turn != 0 && texts[j].turn == texts[i].turn) {
                const double apart = std::abs(texts[i].at.x - texts[j].at.x) *
                                     std::sin(texts[i].turn * std::numbers::pi / 180);
                if (apart < texts[i].size) over += texts[i].text + " / " + texts[j].text + "; ";
            } else if (one.meets(figure::extent_of(texts[j]))) {
                over += texts[i].text + " / " + texts[j].text + "; ";
            }
        }
    }
    CHECK(off == "");
    CHECK(over == "");
    bool hots_on_sheet = true;
    for (const figure::Hot& hot : sheet.hots()) {
        hots_on_sheet = hots_on_sheet && hot.extent.from.x >= 0 && hot.extent.from.y >= 0 &&
                        hot.extent.to.x <= sheet.width() + 8 && hot.extent.to.y <= sheet.height() &&
                        !hot.text.empty();
    }
    CHECK(hots_on_sheet);
}

/// Well-formed XML that carries a title and a description; xmllint judges.
inline void check_svg(const std::string& svg) {
    const Folder folder;
    folder.write("figure.svg", svg);
    const Run lint = run(folder, "xmllint --noout --nonet figure.svg");
    CHECK(lint.code == 0);
    CHECK(lint.err == "");
    const std::size_t element = svg.find("<svg");
    const std::size_t title = svg.find("<title>", element);
    CHECK(title < svg.find("<g ", element)); // the figure's own, not a part's
    CHECK(svg.find("<desc>", title) < svg.find("<g ", element));
    CHECK(svg.find("<script") == std::string::npos);
}

} // namespace hestrel::tests
