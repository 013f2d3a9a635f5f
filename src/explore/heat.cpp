#include "explore/heat.hpp"

#include <map>
#include <unordered_map>

namespace hestrel::explore {

namespace {

/// What situations use, by device: alike where the same levels are there under the same veils.
class Uses {
public:
    explicit Uses(const Explorer& explorer) : explorer_(explorer) {}

    const std::vector<Use>& of(const Word* row) {
        if (explorer_.folded().any()) { // what may be there hangs on where players are
            last_ = work_out(row);
            return last_;
        }
        const std::vector<plan::VeilId> veils = veils_up(explorer_.control_of(row));
        std::vector<std::uint32_t> key{explorer_.level_number(row)};
        for (const plan::VeilId veil : veils) key.push_back(veil.value);
        const auto known = known_.find(key);
        if (known != known_.end()) return known->second;
        return known_.emplace(std::move(key), work_out(row)).first->second;
    }

private:
    [[nodiscard]] std::vector<Use> work_out(const Word* row) const {
        const std::vector<LevelThere> levels = explorer_.all_levels(row);
        const std::vector<plan::VeilId> veils = veils_up(explorer_.control_of(row));
        std::vector<Use> uses;
        for (std::size_t device = 0; device < explorer_.options().devices.size(); ++device)
            uses.push_back(explorer_.bounds(device).settled(levels, veils));
        return uses;
    }

    const Explorer& explorer_;
    std::map<std::vector<std::uint32_t>, std::vector<Use>> known_;
    std::vector<Use> last_;
};

} // namespace

std::vector<Heat> heat(const Explorer& explorer) {
    std::map<plan::WaypointId, std::vector<Use>> most;
    Uses uses(explorer);
    for (std::uint32_t situation = 0; situation < explorer.visited(); ++situation) {
        const Word* row = explorer.row(situation);
        const std::vector<Use>& now = uses.of(row);
        for (std::size_t player = 0; player < explorer.players().size(); ++player) {
            const PlayerNow& stands = explorer.player_of(row, player);
            if (stands.on_the_way() || !stands.at) continue;
            const auto [of_place, fresh] = most.try_emplace(stands.at, now);
            if (fresh) continue;
            for (std::size_t device = 0; device < now.size(); ++device)
                of_place->second[device].raise_to(now[device]);
        }
    }
    std::vector<Heat> all;
    for (std::size_t device = 0; device < explorer.options().devices.size(); ++device) {
        for (const auto& [at, of_place] : most) all.push_back({device, at, of_place[device]});
    }
    return all;
}

} // namespace hestrel::explore
