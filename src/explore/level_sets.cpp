#include "explore/level_sets.hpp"

#include <algorithm>

namespace hestrel::explore {

using plan::LevelId;

LevelSets::LevelSets(const plan::LevelTree& tree, Pages& pages)
    : tree_(&tree), words_(tree.size() / levels_in_word + 1), rows_(pages, words_),
      scratch_(words_) {
    goings_on_.number({}, {});
}

std::uint32_t LevelSets::code_of(const LevelThere& of) {
    if (of.leaving) return leaving;
    std::uint32_t code = of.wanted ? wanted : ready;
    if (of.pending) code = of.wanted ? pending_wanted : pending;
    if (of.shown) code = shown;
    return code | (of.blocked ? blocked : 0);
}

LevelThere LevelSets::there(LevelId level, std::uint32_t code) {
    const std::uint32_t how = code & 7;
    return {level,
            how == shown,
            how == shown || how == wanted || how == pending_wanted,
            how == pending || how == pending_wanted,
            (code & blocked) != 0,
            how == leaving};
}

std::uint32_t LevelSets::number(const std::vector<LevelThere>& levels) {
    std::fill(scratch_.begin(), scratch_.end(), 0);
    for (const LevelThere& each : levels) field(each.level).set(scratch_.data(), code_of(each));
    return number_of_row(scratch_.data());
}

std::uint32_t LevelSets::changed(std::uint32_t set, const FewBits& writes) {
    if (writes.empty()) return set;
    std::copy_n(rows_[set], words_, scratch_.begin());
    write(writes, scratch_.data());
    return number_of_row(scratch_.data());
}

std::uint32_t LevelSets::known_changed(std::uint32_t set, const FewBits& writes,
                                       std::vector<Word>& scratch) const {
    if (writes.empty()) return set;
    scratch.assign(rows_[set], rows_[set] + words_);
    write(writes, scratch.data());
    return rows_.find(scratch.data(), rows_.hash(scratch.data()));
}

std::vector<LevelThere> LevelSets::levels(std::uint32_t set) const {
    std::vector<LevelThere> all;
    for_levels(set, [&](LevelId level, std::uint32_t code) { all.push_back(there(level, code)); });
    return all;
}

FewBits LevelSets::all_bits(const std::vector<LevelId>& levels) {
    FewBits bits;
    for (const LevelId level : levels) bits_of(bits, field(level).word).mask |= field(level).mask();
    return bits;
}

FewBits LevelSets::whole(std::uint32_t set) const {
    FewBits bits;
    for (std::uint32_t word = 0; word < words_; ++word)
        bits.push_back({word, ~Word{0}, rows_[set][word]});
    return bits;
}

std::uint32_t LevelSets::find_going_on(std::uint32_t set) {
    for (auto next = static_cast<std::uint32_t>(going_on_.size()); next <= set; ++next) {
        std::vector<LevelId> moving;
        for_levels(next, [&](LevelId level, std::uint32_t code) {
            const LevelThere each = there(level, code);
            const bool waits = each.wanted && !each.shown;
            if (!each.pending && !each.blocked && !each.leaving && !waits) return;
            for (LevelId above = level; above; above = (*tree_)[above].parent)
                moving.push_back(above);
        });
        std::sort(moving.begin(), moving.end());
        moving.erase(std::unique(moving.begin(), moving.end()), moving.end());
        Key key;
        for (const LevelId level : moving) {
            key.push_back(level.value);
            key.push_back(code_of(rows_[next], level));
        }
        going_on_.push_back(goings_on_.number(std::move(key), moving));
    }
    return going_on_[set];
}

} // namespace hestrel::explore
