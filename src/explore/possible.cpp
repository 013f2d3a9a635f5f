#include "explore/possible.hpp"

#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <type_traits>
#include <variant>

namespace hestrel::explore {

using plan::LevelId;
using plan::ListId;

namespace {

class PossibleSearch {
public:
    PossibleSearch(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition)
        : plan_(plan), tree_(tree), edition_(edition), opened_(plan.menus.size(), false),
          possible_{plan::Table<LevelId, bool>(plan.levels.size(), false),
                    plan::Table<ListId, bool>(plan.lists.size(), false)} {}

    Possible take(const std::vector<LevelId>& also) {
        add_starts();
        for (const LevelId level : also) add(level);
        for (changed_ = true; changed_;) {
            changed_ = false;
            for (const ListId list : plan_.lists.ids()) {
                if (possible_.lists[list] || !can_begin(plan::top_list(plan_, list))) continue;
                possible_.lists[list] = true;
                changed_ = true;
                read(list);
            }
        }
        return std::move(possible_);
    }

private:
    /// What it belongs to can be there, or is opened wherever players are.
    [[nodiscard]] bool can_begin(ListId top) const {
        const plan::StepList& list = plan_.lists[top];
        const std::vector<LevelId> levels = plan::levels_of(list);
        return levels.empty() || is_opened(list) ||
               std::any_of(levels.begin(), levels.end(),
                           [&](LevelId level) { return possible_.levels[level]; });
    }
    [[nodiscard]] bool is_opened(const plan::StepList& list) const {
        if (list.owner == plan::OwnerKind::item)
            return opened_[plan_.items[plan::ItemId{list.index}].menu];
        return list.owner == plan::OwnerKind::after && opened_[plan::MenuId{list.index}];
    }
    void read(ListId list) {
        for (const plan::Step& step : plan_.lists[list].steps)
            std::visit([&](const auto& what) { read_step(what); }, step.what);
    }
    template <class What>
    void read_step(const What& what) {
        if constexpr (requires { what.levels; })
            for (const LevelId level : what.levels) add(level);
        if constexpr (requires { what.level; }) add(what.level);
        if constexpr (std::is_same_v<What, plan::SwitchStep>) {
            for (const LevelId level : what.with) add(level);
            for (const LevelId level : plan::switched_to(plan_, edition_, what)) add(level);
        } else if constexpr (std::is_same_v<What, plan::ReturnStep>) {
            for (const LevelId level : what.how.with) add(level);
        } else if constexpr (std::is_same_v<What, plan::OpenStep>) {
            changed_ = changed_ || !opened_[what.menu];
            opened_[what.menu] = true;
        }
    }
    void add_starts() {
        for (const plan::EditionId each : plan::editions_of(plan_, edition_))
            add(plan::first_of(plan_.editions[each].levels));
        for (const plan::Route& route : plan_.routes) {
            if (edition_ && route.edition != edition_) continue;
            add(route.start.level);
            for (const LevelId level : route.start.loaded) add(level);
            if (route.start.checkpoint) add(route.start.checkpoint->level);
        }
        for (const LevelId id : plan_.levels.ids())
            if (plan_.levels[id].persist || plan_.levels[id].near) add(id);
    }
    /// With what is above it, and what comes with it.
    void add(LevelId level) {
        if (!level) return;
        for (const LevelId each : plan::asked_with(tree_, level)) {
            changed_ = changed_ || !possible_.levels[each];
            possible_.levels[each] = true;
        }
    }

    const plan::Plan& plan_;
    const plan::LevelTree& tree_;
    plan::EditionId edition_;
    plan::Table<plan::MenuId, bool> opened_; ///< by a step
    Possible possible_;
    bool changed_ = false;
};

} // namespace

Possible possible_in(const plan::Plan& plan, const plan::LevelTree& tree, plan::EditionId edition,
                     const std::vector<LevelId>& also) {
    return PossibleSearch(plan, tree, edition).take(also);
}

} // namespace hestrel::explore
