#include "verify/overall.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

namespace hestrel::verify {

using plan::Micros;
using What = Outcome::What;

namespace {

/// How long a load took from its transition on, as the log has it. The boot counts from its own
/// beginning.
Micros took(const SessionResult& session, const Outcome& outcome) {
    if (outcome.transition != 0) return *outcome.measured - outcome.since;
    const Micros start = session.session.boot_start.value_or(session.session.boot_end);
    return *outcome.measured + session.session.boot_end - start;
}

struct Gathered {
    LoadSpread spread;
    std::set<std::size_t> plays;
    std::vector<std::pair<Micros, std::size_t>> times; ///< with the play
};

using Key = std::tuple<std::uint32_t, std::uint32_t, std::uint32_t>;

void add(Gathered& all, const SessionResult& session, const Outcome& outcome, std::size_t play) {
    all.plays.insert(play);
    if (outcome.what == What::missing) {
        ++all.spread.missing;
        return;
    }
    ++all.spread.loads;
    if (outcome.what == What::later) ++all.spread.late;
    all.spread.planned = std::max(all.spread.planned, *outcome.planned - outcome.since);
    all.times.emplace_back(took(session, outcome), play);
}

} // namespace

std::vector<LoadSpread> over_all(const std::vector<PlayResult>& plays) {
    std::map<Key, Gathered> all;
    for (std::size_t play = 0; play < plays.size(); ++play) {
        for (const SessionResult& session : plays[play].sessions) {
            for (const Outcome& outcome : session.outcomes) {
                const bool counts = outcome.planned && !outcome.adopted && outcome.arrival;
                if (!counts) continue;
                LoadSpread cause;
                if (outcome.transition != 0) {
                    const walk::Transition& transition =
                        session.replay.record.transitions[outcome.transition - 1];
                    cause.list = transition.list;
                    cause.near = transition.near;
                }
                cause.level = plan::LevelId{outcome.subject};
                // The boot first, then lists, then what came near.
                const std::uint32_t order = outcome.transition == 0 ? 0
                                            : cause.list            ? 1 + cause.list.value
                                                                    : plan::ListId::no_value;
                const auto [found, fresh] =
                    all.try_emplace(Key{order, cause.near.value, cause.level.value});
                if (fresh) found->second.spread = cause;
                add(found->second, session, outcome, play);
            }
        }
    }
    std::vector<LoadSpread> spreads;
    for (auto& [key, gathered] : all) {
        LoadSpread& spread = gathered.spread;
        spread.plays = gathered.plays.size();
        std::sort(gathered.times.begin(), gathered.times.end());
        if (!gathered.times.empty()) {
            spread.least = gathered.times.front().first;
            spread.median = gathered.times[(gathered.times.size() - 1) / 2].first;
            spread.most = gathered.times.back().first;
            spread.worst_play = gathered.times.back().second;
        }
        spreads.push_back(spread);
    }
    return spreads;
}

PlaySummary summary_of(const Log& log, const PlayResult& play) {
    PlaySummary summary;
    for (const LogEvent& event : log.events) {
        if (event.figure == LogEvent::Figure::hitch) ++summary.hitches;
    }
    for (const SessionResult& session : play.sessions) {
        for (std::size_t i = 0; i < session.replay.judged.size(); ++i) {
            if (!session.session.script.cues[i].is_judged()) continue;
            ++summary.firings;
            if (session.replay.judged[i].objection != flow::Objection::none) ++summary.unplanned;
        }
        for (const ByItself& each : session.by_itself) {
            if (each.cue.what != walk::Cue::What::fact_set) ++summary.by_itself;
        }
        for (const Outcome& outcome : session.outcomes) {
            if (outcome.adopted || !outcome.planned || !outcome.arrival) continue;
            if (outcome.what == What::missing) {
                ++summary.missing;
                continue;
            }
            ++summary.loads;
            if (outcome.what == What::later) ++summary.later;
            if (outcome.what == What::earlier) ++summary.earlier;
            if (outcome.transition != 0)
                summary.latest = std::max(summary.latest.value_or(outcome.off), outcome.off);
        }
        for (const MemoryAt& at : session.memory) {
            const plan::Bytes over = at.measured - at.planned;
            summary.most_over = std::max(summary.most_over.value_or(over), over);
        }
        summary.planned_hitches += session.replay.record.hitches.size();
    }
    return summary;
}

} // namespace hestrel::verify
