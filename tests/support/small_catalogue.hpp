#pragma once
// Catalogues small enough to work out by hand.

#include "loading/loader.hpp"

#include <algorithm>
#include <memory>
#include <utility>
#include <vector>

namespace hestrel::tests {

/// A device with one pool: 100 MiB/s, no latency, four reads at once, stored unpacked, 10 ms
/// frames, nothing costs anything. Tests change what they are about.
struct SmallCatalogue : loading::Catalogue {
    SmallCatalogue() {
        pools = 1;
        read = {plan::ByteRate{plan::mebibytes(100).count}, {}, 4};
        frame.period = plan::milliseconds(10);
        memory.total = plan::mebibytes(1 << 20);
    }

    struct LevelIs {
        int memory = 0;  ///< MiB
        int packed = -1; ///< MiB; -1: as large as memory
        int objects = 0;
        plan::LevelId parent{};
        bool with_parent = false;
        plan::Micros attach{};
        std::vector<int> kits{}; ///< as numbered by `kit`
        plan::Micros frame_cost{};
        std::optional<plan::Micros> make{}; ///< with `packed` 0 it is not read
    };
    /// Levels must all be added before the first kit.
    plan::LevelId level(const LevelIs& is) {
        const plan::LevelId id = tree.push({is.parent, {}, {}});
        if (is.parent) tree[is.parent].sublevels.push_back(id);
        if (is.parent && is.with_parent) tree[is.parent].with_parent.push_back(id);
        levels.push({{}, is.attach, is.frame_cost});
        kits_wanted.push_back(is.kits);
        add_piece(is.memory, is.packed, is.objects, is.make);
        return id;
    }
    loading::PieceId kit(int megabytes, int packed = -1, int objects = 0,
                         std::optional<plan::Micros> make = {}) {
        return add_piece(megabytes, packed, objects, make);
    }
    /// Resolves the kits; call once everything is added.
    const loading::Catalogue& done() {
        for (const plan::LevelId id : levels.ids()) {
            for (const int number : kits_wanted[id.value]) {
                levels[id].kits.emplace_back(levels.size() + static_cast<std::size_t>(number));
            }
        }
        return *this;
    }

    std::vector<std::vector<int>> kits_wanted;

private:
    loading::PieceId add_piece(int memory_mib, int packed_mib, int objects,
                               std::optional<plan::Micros> make) {
        const plan::Bytes size = plan::mebibytes(memory_mib);
        const bool is_read = !make || packed_mib != 0;
        const bool as_large = packed_mib < 0 || (is_read && !unpack);
        return pieces.push(
            {as_large ? size : plan::mebibytes(packed_mib), size, {size}, objects, is_read, make});
    }
};

/// A loader with its own sequence.
struct SmallLoader : loading::Loader {
    explicit SmallLoader(SmallCatalogue& catalogue)
        : SmallLoader(catalogue, std::make_unique<loading::Sequence>()) {}

    /// When `kind` last happened to `index`; never if it did not. Drains what has changed so far.
    plan::Micros when(loading::ChangeKind kind, std::uint32_t index) {
        for (const loading::Change& change : take_changes()) seen.push_back(change);
        plan::Micros at = plan::Micros::never();
        for (const loading::Change& change : seen) {
            if (change.kind == kind && change.index == index) at = change.at;
        }
        return at;
    }
    plan::Micros shown_at(plan::LevelId level) {
        return when(loading::ChangeKind::level_shown, level.value);
    }
    plan::Micros ready_at(plan::LevelId level) {
        return when(loading::ChangeKind::level_ready, level.value);
    }
    void ask_for(plan::LevelId level) { ask(level, plan::Priority::soon, 1); }
    void show_it(plan::LevelId level) { show(level, plan::Priority::soon, 1); }
    plan::Bytes peak() const {
        plan::Bytes most;
        for (const auto& row : ledger().rows()) most = std::max(most, row.total);
        return most;
    }

    std::vector<loading::Change> seen;

private:
    SmallLoader(SmallCatalogue& catalogue, std::unique_ptr<loading::Sequence> own)
        : loading::Loader(catalogue.done(), *own), sequence(std::move(own)) {}
    std::unique_ptr<loading::Sequence> sequence;
};

} // namespace hestrel::tests
