#include "walk/seen.hpp"

#include "plan/level_tree.hpp"
#include "walk/timeline.hpp"

#include <algorithm>
#include <map>

namespace hestrel::walk {

using plan::LevelId;
using plan::Micros;

namespace {

/// What could be seen in a while, unless something that comes before it is there too.
struct Candidate {
    enum class Rank : std::uint8_t { veil, booting, gap, stood, switched, shown };
    Rank rank = Rank::shown;
    std::uint32_t outer = 0; ///< of levels that it stands in: how far from the innermost
    std::uint32_t subject = Seen::no_level;
    auto operator<=>(const Candidate&) const = default;
};

/// Looks through the times at which anything that a player could see begins or ends.
class Storyboard {
public:
    Storyboard(const plan::Plan& plan, const Record& record, std::uint32_t player)
        : plan_(plan), record_(record), player_(player), tree_(plan::level_tree(plan.levels)),
          timeline_(timeline_of(plan, record)) {}

    std::vector<Seen> all() {
        veils_and_gaps();
        boots();
        levels();
        stalls();
        return swept();
    }

private:
    struct Change {
        Micros at;
        bool begins = true;
        bool stall = false;
        Candidate what;
        auto operator<=>(const Change&) const = default;
    };
    using Rank = Candidate::Rank;

    void add(const Candidate& what, Micros from, Micros to, bool stall = false) {
        from = std::max(from, Micros{});
        to = std::min(to, record_.end);
        if (from >= to) return;
        changes_.push_back({from, true, stall, what});
        changes_.push_back({to, false, stall, what});
    }
    /// A level, for as long as it is shown.
    void add_shown(const Candidate& what, Micros from, Micros to) {
        for (const Stretch& stretch : timeline_[loading::PieceId{what.subject}]) {
            if (stretch.condition == LevelCondition::shown)
                add(what, std::max(from, stretch.from), std::min(to, stretch.to));
        }
    }

    void veils_and_gaps() {
        for (const Veiled& veiled : record_.veiled) {
            if (veiled.player == player_)
                add({Rank::veil, 0, veiled.veil.value}, veiled.from, veiled.to);
        }
        for (const Gap& gap : record_.gaps) {
            if (gap.player == player_) add({Rank::gap, 0, gap.level.value}, gap.from, gap.to);
        }
    }

    /// The first, and that of each launch.
    void boots() {
        Micros since;
        bool booted = false;
        for (const Event& event : record_.events) {
            if (event.kind == EventKind::launched) {
                since = event.at;
                booted = false;
            }
            if (event.kind != EventKind::boot_ended) continue;
            add({Rank::booting}, since, event.at);
            booted = true;
        }
        if (!booted) add({Rank::booting}, since, record_.end);
    }

    void levels() {
        for (const Needed& needed : record_.needed) {
            if (needed.player != player_ || !needed.stood) continue;
            const auto inner =
                static_cast<std::uint32_t>(plan::ancestors_of(tree_, needed.level).size());
            add_shown({Rank::stood, UINT32_MAX - inner, needed.level.value}, needed.from,
                      needed.to);
        }
        std::uint32_t switched = Seen::no_level;
        Micros since;
        for (const Event& event : record_.events) {
            if (event.kind != EventKind::switch_ended) continue;
            if (switched != Seen::no_level)
                add_shown({Rank::switched, 0, switched}, since, event.at);
            switched = event.subject;
            since = event.at;
        }
        if (switched != Seen::no_level)
            add_shown({Rank::switched, 0, switched}, since, record_.end);
        for (const LevelId level : plan_.levels.ids())
            add_shown({Rank::shown, 0, level.value}, {}, record_.end);
    }

    void stalls() {
        for (const Spell& spell : record_.spells) {
            if (spell.player == player_ && spell.doing == Doing::stalled)
                add({}, spell.from, spell.to, true);
        }
    }

    [[nodiscard]] static Seen seen(const std::map<Candidate, std::size_t>& open, bool stalled) {
        if (open.empty()) return {Seen::What::black, Seen::no_level, {}, {}};
        const Candidate& first = open.begin()->first;
        switch (first.rank) {
        case Rank::veil: return {Seen::What::veil, first.subject, {}, {}};
        case Rank::booting: return {Seen::What::black, Seen::no_level, {}, {}};
        case Rank::gap: return {Seen::What::gap, first.subject, {}, {}};
        default: return {stalled ? Seen::What::stalled : Seen::What::level, first.subject, {}, {}};
        }
    }

    std::vector<Seen> swept() {
        std::sort(changes_.begin(), changes_.end());
        std::vector<Seen> all;
        std::map<Candidate, std::size_t> open; ///< how often each is
        std::size_t stalled = 0;
        Micros since;
        const auto close = [&](Micros at) {
            if (at <= since) return;
            Seen now = seen(open, stalled > 0);
            now.from = since;
            now.to = at;
            if (!all.empty() && all.back().what == now.what && all.back().subject == now.subject)
                all.back().to = at;
            else
                all.push_back(now);
            since = at;
        };
        for (const Change& change : changes_) {
            close(change.at);
            if (change.stall) {
                stalled += change.begins ? 1 : static_cast<std::size_t>(-1);
            } else if (change.begins) {
                ++open[change.what];
            } else if (const auto found = open.find(change.what); --found->second == 0) {
                open.erase(found);
            }
        }
        close(record_.end);
        return all;
    }

    const plan::Plan& plan_;
    const Record& record_;
    std::uint32_t player_;
    plan::LevelTree tree_;
    Timeline timeline_;
    std::vector<Change> changes_;
};

} // namespace

std::vector<Seen> seen_by(const plan::Plan& plan, const Record& record, std::uint32_t player) {
    const auto& machines = plan.routes[record.route].machines;
    const bool elsewhere =
        record.machine && !std::any_of(machines[record.machine].players.begin(),
                                       machines[record.machine].players.end(),
                                       [&](std::uint32_t each) { return each == player; });
    if (elsewhere) return {};
    return Storyboard(plan, record, player).all();
}

} // namespace hestrel::walk
