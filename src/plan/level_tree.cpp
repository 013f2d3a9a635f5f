#include "plan/level_tree.hpp"

#include "plan/lists.hpp"

#include <algorithm>
#include <unordered_set>

namespace hestrel::plan {

namespace {

/// Levels in the order they were added, each once.
struct OrderedLevels {
    std::vector<LevelId> levels;
    std::unordered_set<std::uint32_t> seen;

    void add(LevelId level) {
        if (seen.insert(level.value).second) levels.push_back(level);
    }
    void add_with_parent(const LevelTree& tree, LevelId level) {
        for (const LevelId sublevel : tree[level].with_parent) {
            add(sublevel);
            add_with_parent(tree, sublevel);
        }
    }
};

} // namespace

LevelTree level_tree(const Table<LevelId, Level>& levels) {
    LevelTree tree(levels.size());
    for (const LevelId id : levels.ids()) {
        Relatives& relatives = tree[id];
        relatives.parent = levels[id].parent;
        relatives.sublevels = levels[id].sublevels;
        for (const LevelId sublevel : relatives.sublevels) {
            if (levels[sublevel].with_parent) relatives.with_parent.push_back(sublevel);
        }
    }
    return tree;
}

LevelId root_of(const Table<LevelId, Level>& levels, LevelId level) {
    while (levels[level].parent) level = levels[level].parent;
    return level;
}

std::vector<LevelId> ancestors_of(const LevelTree& tree, LevelId level) {
    std::vector<LevelId> ancestors;
    for (LevelId at = tree[level].parent; at; at = tree[at].parent) ancestors.push_back(at);
    std::reverse(ancestors.begin(), ancestors.end());
    return ancestors;
}

std::vector<LevelId> asked_with(const LevelTree& tree, LevelId level) {
    const std::vector<LevelId> ancestors = ancestors_of(tree, level);
    if (ancestors.empty() && tree[level].with_parent.empty()) return {level};
    OrderedLevels asked;
    for (const LevelId ancestor : ancestors) asked.add(ancestor);
    asked.add(level);
    asked.add_with_parent(tree, level);
    for (const LevelId ancestor : ancestors) asked.add_with_parent(tree, ancestor);
    return asked.levels;
}

std::vector<LevelId> boot_levels(const Table<LevelId, Level>& levels, const LevelTree& tree,
                                 LevelId start) {
    std::vector<LevelId> boot = asked_with(tree, start);
    for (const LevelId level : levels.ids()) {
        if (levels[level].persist) append_new(boot, asked_with(tree, level));
    }
    return boot;
}

std::vector<LevelId> subtree_of(const LevelTree& tree, LevelId level) {
    std::vector<LevelId> levels{level};
    for (const LevelId sublevel : tree[level].sublevels) {
        const std::vector<LevelId> below = subtree_of(tree, sublevel);
        levels.insert(levels.end(), below.begin(), below.end());
    }
    return levels;
}

Table<LevelId, bool> shipped_in(const Plan& plan, const LevelTree& tree, EditionId edition) {
    Table<LevelId, bool> ships(plan.levels.size(), !edition);
    if (!edition) return ships;
    for (const LevelId listed : plan.editions[edition].levels) {
        for (const LevelId level : ancestors_of(tree, listed)) ships[level] = true;
        for (const LevelId level : subtree_of(tree, listed)) ships[level] = true;
    }
    return ships;
}

} // namespace hestrel::plan
