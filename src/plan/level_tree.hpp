#pragma once
// Which level belongs to which: the family relations that asking, showing and unloading follow.

#include "plan/plan.hpp"

#include <vector>

namespace hestrel::plan {

/// One level's relatives.
struct Relatives {
    LevelId parent;
    std::vector<LevelId> sublevels;   ///< direct ones, in plan order
    std::vector<LevelId> with_parent; ///< those of them that load and show with it
};

using LevelTree = Table<LevelId, Relatives>;

LevelTree level_tree(const Table<LevelId, Level>& levels);

/// The outermost level that `level` belongs to: itself where it has no parent.
LevelId root_of(const Table<LevelId, Level>& levels, LevelId level);

/// The ancestors of `level`, outermost first.
std::vector<LevelId> ancestors_of(const LevelTree& tree, LevelId level);

/// The order in which asking for `level` asks for levels, each once: ancestors outermost first,
/// itself, its `with-parent` sublevels in plan order (each with its own), last those of its
/// ancestors (docs/model.md section 4). What is wanted shown with it is the same.
std::vector<LevelId> asked_with(const LevelTree& tree, LevelId level);

/// What a boot in `start` waits for: that and all persisting levels, each with what comes with it.
std::vector<LevelId> boot_levels(const Table<LevelId, Level>& levels, const LevelTree& tree,
                                 LevelId start);

/// `level` and all its sublevels, outermost first, in plan order.
std::vector<LevelId> subtree_of(const LevelTree& tree, LevelId level);

/// Which levels an edition ships: what it lists, with all sublevels and ancestors; all where it is
/// unset (docs/model.md section 12).
Table<LevelId, bool> shipped_in(const Plan& plan, const LevelTree& tree, EditionId edition);

} // namespace hestrel::plan
