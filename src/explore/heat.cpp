#include "explore/heat.hpp"

#include "explore/hash_mix.hpp"

#include <functional>
#include <unordered_map>

namespace hestrel::explore {

namespace {

/// What situations use, by device: alike where the same levels are there in the same state.
class Uses {
public:
    explicit Uses(const Explorer& explorer) : explorer_(explorer) {}

    const std::vector<Use>& of(const Word* row) {
        if (explorer_.folded().any()) { // what may be there hangs on where players are
            last_ = work_out(row);
            return last_;
        }
        const auto [known, fresh] =
            known_.try_emplace(Alike{explorer_.level_number(row), &explorer_.control_of(row)});
        if (fresh) known->second = work_out(row);
        return known->second;
    }

private:
    struct Alike {
        std::uint32_t levels = 0;
        const flow::State* control = nullptr; ///< each is kept once
        bool operator==(const Alike&) const = default;
    };
    struct HashOfAlike {
        std::size_t operator()(const Alike& alike) const {
            return hash_mix(alike.levels, std::hash<const flow::State*>{}(alike.control));
        }
    };

    [[nodiscard]] std::vector<Use> work_out(const Word* row) const {
        const std::vector<LevelThere> levels = explorer_.all_levels(row);
        const std::vector<plan::VeilId> veils = veils_up(explorer_.control_of(row));
        std::vector<Use> uses;
        for (std::size_t device = 0; device < explorer_.options().devices.size(); ++device)
            uses.push_back(explorer_.bounds(device).settled(levels, veils));
        return uses;
    }

    const Explorer& explorer_;
    std::unordered_map<Alike, std::vector<Use>, HashOfAlike> known_;
    std::vector<Use> last_;
};

} // namespace

std::vector<Heat> heat(const Explorer& explorer) {
    plan::Table<plan::WaypointId, std::vector<Use>> most(explorer.plan().waypoints.size());
    Uses uses(explorer);
    for (std::uint32_t situation = 0; situation < explorer.visited(); ++situation) {
        const Word* row = explorer.row(situation);
        const std::vector<Use>& now = uses.of(row);
        for (std::size_t player = 0; player < explorer.players().size(); ++player) {
            const PlayerNow& stands = explorer.player_of(row, player);
            if (stands.on_the_way() || !stands.at) continue;
            std::vector<Use>& of_place = most[stands.at];
            if (of_place.empty()) of_place = now;
            for (std::size_t device = 0; device < now.size(); ++device)
                of_place[device].raise_to(now[device]);
        }
    }
    std::vector<Heat> all;
    for (std::size_t device = 0; device < explorer.options().devices.size(); ++device) {
        for (const plan::WaypointId at : most.ids()) {
            if (!most[at].empty()) all.push_back({device, at, most[at][device]});
        }
    }
    return all;
}

} // namespace hestrel::explore
