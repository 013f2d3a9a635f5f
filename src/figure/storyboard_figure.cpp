#include "figure/storyboard_figure.hpp"

#include "figure/frame.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"
#include "walk/seen.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace hestrel::figure {

using walk::Seen;

namespace {

constexpr double board_height = 26;
constexpr double board_gap = 8;
constexpr double least_between = 2; ///< pixels: narrower neighbours are not kept apart
constexpr double least_gap = 3;     ///< pixels

struct BoardStrip {
    const walk::Record* record = nullptr;
    std::uint32_t player = 0;
    std::string name; ///< stands beside it
    std::vector<Seen> seen;
};

/// What tells the strips of a figure apart, and nothing that is the same for all.
std::string strip_name(const plan::Plan& plan, const BoardStrip& strip, bool routes, bool devices) {
    const plan::Route& route = plan.routes[strip.record->route];
    std::vector<std::string> parts;
    if (routes) parts.push_back(route.name);
    if (devices) parts.push_back(walk::device_text(plan, *strip.record));
    if (route.players.size() > 1 || parts.empty())
        parts.push_back(route.players[strip.player].name);
    return plan::joined(parts);
}

std::vector<BoardStrip> board_strips(const plan::Plan& plan,
                                     const std::vector<const walk::Record*>& records) {
    const auto differ = [&](auto of) {
        return std::any_of(records.begin(), records.end(), [&](const walk::Record* record) {
            return of(*record) != of(*records.front());
        });
    };
    const bool routes = differ([](const walk::Record& record) { return record.route; });
    const bool devices =
        differ([&](const walk::Record& record) { return walk::device_text(plan, record); });
    std::vector<BoardStrip> strips;
    for (const walk::Record* record : records) {
        const auto players = static_cast<std::uint32_t>(plan.routes[record->route].players.size());
        for (std::uint32_t player = 0; player < players; ++player) {
            BoardStrip strip{record, player, {}, walk::seen_by(plan, *record, player)};
            if (strip.seen.empty()) continue;
            strip.name = strip_name(plan, strip, routes, devices);
            strips.push_back(std::move(strip));
        }
    }
    return strips;
}

struct SeenLook {
    std::string_view colour;
    std::string_view text_colour;
    std::string_view legend;
};
SeenLook look_of(Seen::What what) {
    switch (what) {
    case Seen::What::veil: return {palette::behind_veil, palette::on_light, "a veil"};
    case Seen::What::gap: return {palette::gap, palette::paper, "gap: a level is missing"};
    case Seen::What::stalled:
        return {palette::stall, palette::on_light, "a level, and the player can't go on"};
    case Seen::What::level: return {palette::ready, palette::on_light, "a level"};
    case Seen::What::black: return {palette::black, palette::on_dark, "black"};
    }
    return {};
}
constexpr std::array all_looks{Seen::What::level, Seen::What::stalled, Seen::What::gap,
                               Seen::What::veil, Seen::What::black};

std::string name_of(const plan::Plan& plan, const Seen& seen) {
    switch (seen.what) {
    case Seen::What::veil: return plan.veils[plan::VeilId{seen.subject}].name;
    case Seen::What::black: return "black";
    default:
        if (seen.subject == Seen::no_level) return "black";
        return plan::place_name(plan, plan::LevelId{seen.subject});
    }
}

std::string said_of(const plan::Plan& plan, const Seen& seen) {
    const std::string name = name_of(plan, seen);
    const std::string time =
        fmt::format("{:.2f} to {:.2f} s ({})", plan::in_seconds(seen.from),
                    plan::in_seconds(seen.to), tables::short_time(seen.to - seen.from));
    switch (seen.what) {
    case Seen::What::veil: return fmt::format("veil {}\n{}", name, time);
    case Seen::What::gap: return fmt::format("gap: {} is missing\n{}", name, time);
    case Seen::What::stalled: return fmt::format("{}, and can't go on\n{}", name, time);
    default: return fmt::format("{}\n{}", name, time);
    }
}

/// As much of a name as there is room for; empty where that says nothing.
std::string shortened(const std::string& name, double room) {
    if (text_width(name, small_text) <= room) return name;
    constexpr std::size_t least = 3;
    const auto starts = [&](std::size_t at) { // of a character
        return (static_cast<unsigned char>(name[at]) & 0xC0U) != 0x80U;
    };
    for (std::size_t length = name.size(); length-- > least;) {
        if (!starts(length)) continue;
        std::string part = name.substr(0, length) + "…";
        if (text_width(part, small_text) <= room) return part;
    }
    return {};
}

void draw(Sheet& sheet, const plan::Plan& plan, const Seen& seen, const TimeFrame& frame,
          double top) {
    const SeenLook look = look_of(seen.what);
    Extent part{{frame.x(seen.from), top}, {frame.x(seen.to), top + board_height}};
    // However short it is, it must be seen that something is missing.
    if (seen.what == Seen::What::gap) part.to.x = std::max(part.to.x, part.from.x + least_gap);
    sheet.rect(part, look.colour);
    sheet.hot(part, said_of(plan, seen));
    if (part.width() > least_between && seen.from.count > 0)
        sheet.line({part.from, {part.from.x, part.to.y}}, palette::paper);
    const std::string name = shortened(on_one_line(name_of(plan, seen)), part.width() - 6);
    if (name.empty()) return;
    const Point middle{part.from.x + part.width() / 2, top + board_height / 2};
    sheet.text({middle, name, Align::centre, small_text, look.text_colour});
}

void draw(Sheet& sheet, const plan::Plan& plan, const BoardStrip& strip, const TimeFrame& frame,
          double top) {
    sheet.text({{frame.left - 8, top + board_height / 2},
                strip.name,
                Align::right,
                normal_text,
                palette::ink});
    for (const bool gaps : {false, true}) { // those on top
        for (const Seen& seen : strip.seen) {
            if ((seen.what == Seen::What::gap) == gaps) draw(sheet, plan, seen, frame, top);
        }
    }
}

std::string description_of(const std::vector<BoardStrip>& strips) {
    const auto longest = [&](Seen::What what) {
        plan::Micros most;
        for (const BoardStrip& strip : strips) {
            for (const Seen& seen : strip.seen) {
                if (seen.what == what) most = std::max(most, seen.to - seen.from);
            }
        }
        return most.count == 0 ? std::string("never") : tables::short_time(most);
    };
    return fmt::format("What players see. At a stretch, at most: black {}, behind a veil {}, a gap "
                       "{}, stalled {}.",
                       longest(Seen::What::black), longest(Seen::What::veil),
                       longest(Seen::What::gap), longest(Seen::What::stalled));
}

/// Where: the plan, and what all the strips have in common.
std::string title_of(const plan::Plan& plan, const std::vector<BoardStrip>& strips) {
    const walk::Record& first = *strips.front().record;
    const auto same = [&](auto of) {
        return std::all_of(strips.begin(), strips.end(),
                           [&](const BoardStrip& strip) { return of(*strip.record) == of(first); });
    };
    std::string title = "Storyboard – " + on_one_line(plan.name);
    if (same([](const walk::Record& record) { return record.route; }))
        title += ", route " + plan.routes[first.route].name;
    if (same([&](const walk::Record& record) { return walk::device_text(plan, record); }))
        title += (first.machine ? ", machine " : ", device ") + walk::device_text(plan, first);
    return title;
}

} // namespace

std::optional<Figure> storyboard_figure(const plan::Plan& plan,
                                        const std::vector<const walk::Record*>& records) {
    const std::vector<BoardStrip> strips = board_strips(plan, records);
    if (strips.empty()) return std::nullopt;
    std::vector<std::string> names;
    for (const BoardStrip& strip : strips) names.push_back(strip.name);
    TimeFrame frame = time_frame(*strips.front().record, names, {});
    for (const BoardStrip& strip : strips) frame.end = std::max(frame.end, strip.record->end);
    std::vector<Swatch> legend;
    for (const Seen::What what : all_looks) {
        const bool any = std::any_of(strips.begin(), strips.end(), [&](const BoardStrip& strip) {
            return std::any_of(strip.seen.begin(), strip.seen.end(),
                               [&](const Seen& seen) { return seen.what == what; });
        });
        if (any) legend.push_back({std::string(look_of(what).legend), look_of(what).colour});
    }
    const std::string title = title_of(plan, strips);
    const double legend_top = title_height(title, frame.width);
    const double legend_wide = frame.width - 2 * margin;
    const double top = legend_top + legend_line(nullptr, {}, legend_wide, legend) + board_gap;
    const double bottom = top + static_cast<double>(strips.size()) * (board_height + board_gap);
    Figure figure{Sheet(frame.width, bottom + time_axis_height), title, description_of(strips)};
    Sheet& sheet = figure.sheet;
    draw_title(sheet, title);
    legend_line(&sheet, {margin, legend_top}, legend_wide, legend);
    draw_time_axis(sheet, frame, top, bottom);
    for (std::size_t i = 0; i < strips.size(); ++i)
        draw(sheet, plan, strips[i], frame,
             top + static_cast<double>(i) * (board_height + board_gap));
    return figure;
}

} // namespace hestrel::figure
