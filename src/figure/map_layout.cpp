#include "figure/map_layout.hpp"

#include "figure/map_cells.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::figure {

using plan::WorldId;

namespace {

constexpr double map_width = 1120;
constexpr double side_room = 60; ///< left and right of what stands, for names
constexpr double full_width = map_width - 2 * side_room;
constexpr double least_width = 300;
constexpr double least_height = 150;
constexpr double most_height = 640;
constexpr double steepest = 4; ///< how much larger the short axis may be drawn
constexpr double least_side = 60;
constexpr double most_side = 300;

/// A panel before it has its place on the sheet.
struct Planned {
    WorldId world;
    Looking looking = Looking::down;
    MapAxis across;
    MapAxis down;
    double width = full_width;
    double height = 0;
    bool one_scale = true;
};

Planned from_above(const plan::Plan& plan, WorldId world) {
    Planned panel{world, Looking::down, MapAxis(stands_along(plan, world, 0)),
                  MapAxis(stands_along(plan, world, 2))};
    const double across = panel.across.drawn_length();
    const double down = panel.down.drawn_length();
    const double scale = std::min(full_width / across, most_height / down);
    panel.width = across * scale;
    panel.height = down * scale;
    panel.one_scale = panel.width >= least_width && panel.height >= least_height;
    if (panel.one_scale) return panel;
    const double true_height = full_width * down / across;
    panel.width = full_width;
    panel.height = std::clamp(true_height, least_height, most_height);
    panel.height = std::max(panel.height, std::min(true_height * steepest, most_height / 2));
    return panel;
}

/// On the same axis across as the panel from above.
Planned from_side(const plan::Plan& plan, const Planned& above) {
    Planned panel{above.world, Looking::along, above.across,
                  MapAxis(stands_along(plan, above.world, 1)), above.width};
    const double true_height =
        panel.down.drawn_length() * above.width / above.across.drawn_length();
    panel.height = std::clamp(true_height, least_side, most_side);
    panel.one_scale = panel.height == true_height;
    return panel;
}

std::vector<Planned> panels_of(const plan::Plan& plan) {
    std::vector<Planned> panels;
    for (const WorldId world : plan.worlds.ids()) {
        if (stands_along(plan, world, 0).empty()) continue;
        panels.push_back(from_above(plan, world));
        if (!geometry::floors_of(plan, world).empty())
            panels.push_back(from_side(plan, panels.back()));
    }
    return panels;
}

std::string heading_of(const plan::Plan& plan, const Planned& panel, std::size_t worlds) {
    std::string text = worlds > 1 ? "World " + plan.worlds[panel.world] + ", from " : "From ";
    text += panel.looking == Looking::down ? "above" : "the side";
    const bool shortened = std::any_of(panel.across.pieces().begin(), panel.across.pieces().end(),
                                       [](const MapAxis::Piece& piece) { return piece.shortened; });
    if (!panel.one_scale)
        text += panel.looking == Looking::down ? "; each axis to its own scale"
                                               : "; heights to their own scale";
    return text + (shortened ? "; long empty ways shortened" : "");
}

} // namespace

std::vector<Swatch> ground_legend(const plan::Plan& plan, const std::set<plan::LevelId>& shown) {
    std::vector<Swatch> legend;
    const auto add_if_any = [&](const auto& table, const auto& holds, const Swatch& swatch) {
        if (std::any_of(table.begin(), table.end(), holds)) legend.push_back(swatch);
    };
    add_if_any(plan.levels,
               [](const plan::Level& level) { return !level.area.empty() && !level.grid; },
               {"level's area", palette::area_edge, Swatch::Kind::line});
    add_if_any(plan.grids, [](const plan::Grid&) { return true; }, {"cell", palette::area});
    add_if_any(plan.grids, [&](const plan::Grid& grid) { return shown_of(grid, shown) > 0; },
               {"cell that was shown", palette::cell_shown});
    add_if_any(plan.levels, [](const plan::Level& level) { return !level.seen_from.empty(); },
               {"place to see one from", palette::area_edge, Swatch::Kind::dotted});
    add_if_any(plan.triggers,
               [](const plan::Trigger& trigger) {
                   return !std::holds_alternative<std::monostate>(trigger.shape);
               },
               {"trigger", palette::trigger, Swatch::Kind::dashed});
    add_if_any(plan.paths,
               [&](const plan::Path& path) { return !path.one_way && !is_in_cells(plan, path); },
               {"path", palette::path, Swatch::Kind::line});
    add_if_any(plan.paths, [](const plan::Path& path) { return path.one_way; },
               {"path, one way", palette::path, Swatch::Kind::dashed});
    add_if_any(plan.paths, [](const plan::Path& path) { return bool(path.gate); },
               {"gate", palette::ink});
    return legend;
}

std::optional<Figure> map_of(const MapGround& ground, const std::string& title,
                             const std::vector<Swatch>& legend,
                             const std::set<plan::LevelId>& shown,
                             const std::function<void(MapPanel&, WorldId)>& happens) {
    const plan::Plan& plan = ground.plan;
    const std::vector<Planned> panels = panels_of(plan);
    if (panels.empty()) return std::nullopt;
    const auto worlds = static_cast<std::size_t>(
        std::count_if(panels.begin(), panels.end(),
                      [](const Planned& panel) { return panel.looking == Looking::down; }));
    const double legend_top = title_height(title, map_width);
    const double head = legend_top + legend_line(nullptr, {}, map_width - 2 * margin, legend);
    double height = head;
    for (const Planned& panel : panels)
        height += legend_row + 2 * MapPanel::above + panel.height + MapPanel::axis_room;
    Figure figure{Sheet(map_width, height + legend_row), title, {}};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, title);
    legend_line(&sheet, {margin, legend_top}, map_width - 2 * margin, legend);
    double y = head;
    std::size_t left_out = 0;
    for (const Planned& panel : panels) {
        sheet.text({{margin, y + legend_row / 2},
                    heading_of(plan, panel, worlds),
                    Align::left,
                    normal_text,
                    palette::ink});
        y += legend_row + MapPanel::above;
        const MapFrame frame{{{side_room, y}, {side_room + panel.width, y + panel.height}},
                             panel.across,
                             panel.down,
                             panel.looking};
        MapPanel drawn(ground, panel.world, sheet, frame);
        drawn.draw_ground(shown);
        happens(drawn, panel.world);
        drawn.draw_places();
        left_out += drawn.finish();
        y = frame.room.to.y + MapPanel::above + MapPanel::axis_room;
    }
    if (left_out > 0)
        sheet.text({{margin, y + legend_row / 2 - 6},
                    fmt::format("{} {} left out for lack of room; pointing at a thing names it.",
                                left_out, left_out == 1 ? "name is" : "names are"),
                    Align::left,
                    small_text,
                    palette::muted});
    figure.description = fmt::format("{} from above{}.", tables::counted(worlds, "world"),
                                     panels.size() > worlds ? ", and from the side" : "");
    return figure;
}

} // namespace hestrel::figure
