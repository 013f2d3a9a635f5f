#include "exchange/trace.hpp"

#include "source/json.hpp"
#include "source/own_mark.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>
#include <optional>
#include <string_view>
#include <vector>

namespace hestrel::exchange {

namespace {

using plan::Micros;
using source::Json;
using walk::EventKind;

/// Something that lasts, on a track of its kind.
struct Stretch {
    Micros from;
    Micros to;
    std::string name;
};

/// Tracks of one kind: one below the other, as many as there are stretches at once.
struct Tracks {
    std::string_view name;
    std::vector<Stretch> stretches;
};

class Trace {
public:
    Trace(const plan::Plan& plan, const walk::Record& record) : plan_(plan), record_(record) {}

    std::string text() {
        instants();
        add({"read", stretches(&loading::PieceTimes::read_start, &loading::PieceTimes::read_end)});
        add({"unpack",
             stretches(&loading::PieceTimes::unpack_start, &loading::PieceTimes::unpack_end)});
        add({"make", stretches(&loading::PieceTimes::make_start, &loading::PieceTimes::make_end)});
        add({"main thread", attaching()});
        add({"veil", veils()});
        for (std::uint32_t player = 0; player < players().size(); ++player)
            add({players()[player].name, doings(player)});
        memory();
        Json file{{"displayTimeUnit", "ms"},
                  {"otherData",
                   {{"comment", source::own_mark},
                    {"plan", plan_.name},
                    {"route", plan_.routes[record_.route].name},
                    {"device", plan_.devices[record_.device].name}}}};
        file["traceEvents"] = std::move(events_);
        return source::file_text(file);
    }

private:
    [[nodiscard]] const std::vector<plan::RoutePlayer>& players() const {
        return plan_.routes[record_.route].players;
    }
    Json& event(std::string_view phase, std::string_view name, Micros at, std::uint32_t track) {
        events_.push_back(
            {{"name", name}, {"ph", phase}, {"ts", at.count}, {"pid", 1}, {"tid", track}});
        return events_.back();
    }
    std::uint32_t new_track(const std::string& name) {
        const std::uint32_t track = next_track_++;
        event("M", "thread_name", {}, track)["args"] = {{"name", name}};
        event("M", "thread_sort_index", {}, track)["args"] = {{"sort_index", track}};
        return track;
    }

    /// What events.csv says, all of it.
    void instants() {
        const std::uint32_t track = new_track("events");
        for (const walk::Event& each : record_.events) {
            const tables::EventWords words = tables::event_words(plan_, record_, each);
            Json& added = event("i", words.event, each.at, track);
            added["s"] = "t";
            Json args = Json::object();
            if (!words.subject.empty()) args["subject"] = words.subject;
            if (!words.detail.empty()) args["detail"] = words.detail;
            if (!words.player.empty()) args["player"] = words.player;
            added["args"] = std::move(args);
        }
    }
    void add(Tracks tracks) {
        std::stable_sort(
            tracks.stretches.begin(), tracks.stretches.end(),
            [](const Stretch& one, const Stretch& other) { return one.from < other.from; });
        std::vector<std::pair<std::uint32_t, Micros>> free; // each track, and from when on
        for (const Stretch& each : tracks.stretches) {
            auto on = std::find_if(free.begin(), free.end(),
                                   [&](const auto& track) { return track.second <= each.from; });
            if (on == free.end()) {
                const std::string name = free.empty()
                                             ? std::string(tracks.name)
                                             : fmt::format("{} {}", tracks.name, free.size() + 1);
                free.emplace_back(new_track(name), Micros{});
                on = free.end() - 1;
            }
            on->second = each.to;
            event("X", each.name, each.from, on->first)["dur"] = (each.to - each.from).count;
        }
    }

    /// Of what never ended within the walk, until its end.
    [[nodiscard]] std::vector<Stretch>
    stretches(std::optional<Micros> loading::PieceTimes::*from,
              std::optional<Micros> loading::PieceTimes::*to) const {
        std::vector<Stretch> all;
        for (const loading::LoadRecord& load : record_.loads) {
            if (load.*from)
                all.push_back({*(load.*from), (load.*to).value_or(record_.end),
                               tables::piece_name(plan_, load.piece)});
        }
        return all;
    }
    /// From one kind of event of a subject to the next of others.
    template <class Begins, class Ends>
    [[nodiscard]] std::vector<Stretch> between(Begins&& begins, Ends&& ends) const {
        std::vector<Stretch> all;
        std::map<std::uint32_t, Stretch> open;
        for (const walk::Event& each : record_.events) {
            if (const auto found = open.find(each.subject);
                found != open.end() && ends(each.kind)) {
                found->second.to = each.at;
                all.push_back(found->second);
                open.erase(found);
            }
            if (begins(each.kind))
                open.try_emplace(each.subject,
                                 Stretch{each.at, record_.end,
                                         tables::event_words(plan_, record_, each).subject});
        }
        for (const auto& [subject, stretch] : open) all.push_back(stretch);
        return all;
    }
    [[nodiscard]] std::vector<Stretch> attaching() const {
        return between([](EventKind kind) { return kind == EventKind::level_attaching; },
                       [](EventKind kind) {
                           return kind == EventKind::level_shown ||
                                  kind == EventKind::level_hidden ||
                                  kind == EventKind::level_unloaded;
                       });
    }
    [[nodiscard]] std::vector<Stretch> veils() const {
        return between([](EventKind kind) { return kind == EventKind::veil_up; },
                       [](EventKind kind) { return kind == EventKind::veil_down; });
    }
    [[nodiscard]] std::vector<Stretch> doings(std::uint32_t player) const {
        constexpr std::array<std::string_view, 4> words{"moving", "pausing", "veiled", "stalled"};
        std::vector<Stretch> all;
        for (const walk::Spell& spell : record_.spells) {
            if (spell.player == player)
                all.push_back({spell.from, spell.to,
                               std::string(words.at(static_cast<std::size_t>(spell.doing)))});
        }
        return all;
    }

    /// In all, and by pool.
    void memory() {
        for (const loading::MemoryRow& row : record_.memory) {
            event("C", "memory", row.at, 0)["args"] = {{"MiB", plan::in_mebibytes(row.total)}};
            Json pools = Json::object();
            for (const plan::PoolId pool : plan_.pools.ids())
                pools[plan_.pools[pool]] = plan::in_mebibytes(row.pools[pool.value]);
            event("C", "memory by pool", row.at, 0)["args"] = std::move(pools);
        }
    }

    const plan::Plan& plan_;
    const walk::Record& record_;
    Json events_ = Json::array();
    std::uint32_t next_track_ = 1;
};

} // namespace

std::string trace_json(const plan::Plan& plan, const walk::Record& record) {
    return Trace(plan, record).text();
}

} // namespace hestrel::exchange
