#include "figure/map_figure.hpp"

#include "figure/frame.hpp"
#include "figure/map_cells.hpp"
#include "figure/map_layout.hpp"
#include "figure/map_panel.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "tables/words.hpp"
#include "walk/places.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <set>

namespace hestrel::figure {

using plan::WorldId;

namespace {

WorldId world_of(const plan::Plan& plan, const walk::Track& track) {
    return plan.waypoints[plan.paths[track.path].from].world;
}

/// The longest of several times, at most as many as a map can show.
template <class Time>
std::vector<Time> longest(std::vector<Time> times) {
    constexpr std::size_t most = 60;
    std::stable_sort(times.begin(), times.end(), [](const Time& one, const Time& other) {
        return other.to - other.from < one.to - one.from;
    });
    if (times.size() > most) times.erase(times.begin() + most, times.end());
    return times;
}

/// What players did, on one panel.
class Walked {
public:
    Walked(const plan::Plan& plan, const walk::Record& record)
        : plan_(plan), record_(record), shown_(ever_shown(record)) {
        for (std::uint32_t player = 0; player < plan.routes[record.route].players.size(); ++player)
            places_.push_back(walk::places_of(plan, {&record, 1}, player));
    }

    void draw(MapPanel& panel, WorldId world) const {
        tracks(panel, world);
        gaps(panel, world);
        stalls(panel, world);
    }
    [[nodiscard]] const std::set<plan::LevelId>& shown() const { return shown_; }

private:
    void tracks(MapPanel& panel, WorldId world) const {
        std::vector<std::set<std::array<long, 4>>> drawn(palette::walked.size());
        for (const walk::Track& track : record_.tracks) {
            if (world_of(plan_, track) != world) continue;
            const std::size_t colour = track.player % palette::walked.size();
            const Point from = panel.at(track.start);
            const Point to = panel.at(track.end);
            if (panel.is_drawn(drawn[colour], from, to)) continue;
            panel.line(track.start, track.end, palette::walked.at(colour), 3);
            if (!plan_.grids.empty()) panel.block(from, to); // no path keeps names off there
        }
    }
    void gaps(MapPanel& panel, WorldId world) const {
        for (const walk::Gap& gap : longest(record_.gaps)) {
            const std::string said = fmt::format(
                "a gap in {} for {} from {:.2f} s on", plan::place_name(plan_, gap.level),
                tables::short_time(gap.to - gap.from), plan::in_seconds(gap.from));
            for (const TrackPart& part :
                 walked_within(plan_, record_, gap.player, gap.from, gap.to)) {
                if (part.world == world) panel.line(part.from, part.to, palette::gap, 6);
            }
            const walk::Keyframe spot = walk::place_at(places_[gap.player], gap.from);
            if (spot.world == world) panel.diamond(spot.place, palette::gap, said);
        }
    }
    void stalls(MapPanel& panel, WorldId world) const {
        std::vector<walk::Spell> stalls = record_.spells;
        std::erase_if(stalls,
                      [](const walk::Spell& spell) { return spell.doing != walk::Doing::stalled; });
        for (const walk::Spell& spell : longest(std::move(stalls))) {
            const walk::Keyframe spot = walk::place_at(places_[spell.player], spell.from);
            if (spot.world == world)
                panel.diamond(spot.place, palette::stall,
                              fmt::format("stalled for {} from {:.2f} s on",
                                          tables::short_time(spell.to - spell.from),
                                          plan::in_seconds(spell.from)));
        }
    }

    const plan::Plan& plan_;
    const walk::Record& record_;
    std::set<plan::LevelId> shown_;
    std::vector<std::vector<walk::Keyframe>> places_; ///< by player
};

/// What was walked, and how it went.
void add_walked(std::vector<Swatch>& legend, const plan::Plan& plan, const walk::Record& record) {
    const auto& players = plan.routes[record.route].players;
    for (std::size_t i = 0; i < players.size() && i < palette::walked.size(); ++i) {
        const bool moved = std::any_of(record.tracks.begin(), record.tracks.end(),
                                       [&](const walk::Track& track) { return track.player == i; });
        if (!moved) continue;
        legend.push_back({players.size() == 1 ? "walked" : "walked by " + players[i].name,
                          palette::walked.at(i), Swatch::Kind::line});
    }
    if (!record.gaps.empty()) legend.push_back({"gap", palette::gap, Swatch::Kind::diamond});
    if (record.shares.stalled.count > 0)
        legend.push_back({"stalled", palette::stall, Swatch::Kind::diamond});
}

} // namespace

std::vector<TrackPart> walked_within(const plan::Plan& plan, const walk::Record& record,
                                     std::uint32_t player, plan::Micros from, plan::Micros to) {
    std::vector<TrackPart> parts;
    for (const walk::Track& track : record.tracks) {
        if (track.player != player || track.to <= from || to <= track.from) continue;
        parts.push_back({plan.waypoints[plan.paths[track.path].from].world,
                         walk::place_on(track, std::max(from, track.from)),
                         walk::place_on(track, std::min(to, track.to))});
    }
    return parts;
}

std::optional<Figure> map_figure(const plan::Plan& plan, const walk::Record& record) {
    const MapGround ground(plan);
    const Walked walked(plan, record);
    std::vector<Swatch> legend = ground_legend(plan, walked.shown());
    add_walked(legend, plan, record);
    std::optional<Figure> figure =
        map_of(ground, "Map – " + where_walked(plan, record), legend, walked.shown(),
               [&](MapPanel& panel, WorldId world) { walked.draw(panel, world); });
    if (figure)
        figure->description = fmt::format("{} {} walked, {}.", figure->description,
                                          tables::counted(record.tracks.size(), "straight way"),
                                          tables::counted(record.gaps.size(), "gap"));
    return figure;
}

} // namespace hestrel::figure
