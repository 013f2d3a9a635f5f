#include "loading/isolated.hpp"

#include "loading/loader.hpp"

#include <algorithm>
#include <map>

namespace hestrel::loading {

using plan::LevelId;
using plan::Micros;

namespace {

/// The part of a catalogue that is still to be loaded, as a catalogue of its own.
struct Rest {
    Catalogue catalogue;
    std::vector<LevelId> asked;  ///< in order of asking, by the rest's own numbers
    std::vector<LevelId> levels; ///< what the rest's own numbers stand for
    std::vector<PieceId> kits;   ///< and those of its kits, which come after its levels' pieces
};

/// What is asked for and not there, ancestors before their sublevels.
std::vector<LevelId> missing_levels(const Catalogue& catalogue, const IsolatedLoad& what) {
    std::vector<LevelId> missing;
    for (const LevelId level : what.asked) {
        for (const LevelId each : asked_with(catalogue.tree, level)) {
            const bool there = std::binary_search(what.there.begin(), what.there.end(), each);
            if (!there && std::find(missing.begin(), missing.end(), each) == missing.end())
                missing.push_back(each);
        }
    }
    return missing;
}

std::vector<PieceId> kits_there(const Catalogue& catalogue, const IsolatedLoad& what) {
    std::vector<PieceId> kits;
    for (const LevelId level : what.there) {
        const auto& of_level = catalogue.levels[level].kits;
        kits.insert(kits.end(), of_level.begin(), of_level.end());
    }
    std::sort(kits.begin(), kits.end());
    return kits;
}

Rest rest_of(const Catalogue& whole, const IsolatedLoad& what) {
    Rest rest;
    Catalogue& part = rest.catalogue;
    part.pools = whole.pools;
    part.read = whole.read;
    part.unpack = whole.unpack;
    part.makers = whole.makers;
    part.frame = whole.frame;
    part.frame.base += whole.frame_cost(what.there); // shown all the while
    part.release = whole.release;
    part.memory = whole.memory;
    const std::vector<LevelId> missing = missing_levels(whole, what);
    const std::vector<PieceId> resident = kits_there(whole, what);
    std::map<LevelId, LevelId> numbers;
    for (const LevelId level : missing) {
        numbers.emplace(level, part.levels.push({}));
        part.pieces.push(whole.pieces[whole.piece_of(level)]);
        rest.levels.push_back(level);
    }
    part.tree = plan::LevelTree(missing.size());
    std::map<PieceId, PieceId> kits;
    for (const auto& [level, number] : numbers) {
        const plan::Relatives& relatives = whole.tree[level];
        const auto own = [&](LevelId other) {
            const auto found = numbers.find(other);
            return found == numbers.end() ? LevelId{} : found->second;
        };
        if (relatives.parent) part.tree[number].parent = own(relatives.parent);
        for (const LevelId sublevel : relatives.sublevels) {
            if (own(sublevel)) part.tree[number].sublevels.push_back(own(sublevel));
        }
        for (const LevelId sublevel : relatives.with_parent) {
            if (own(sublevel)) part.tree[number].with_parent.push_back(own(sublevel));
        }
        part.levels[number].attach_work = whole.levels[level].attach_work;
        part.levels[number].frame_cost = whole.levels[level].frame_cost;
        for (const PieceId kit : whole.levels[level].kits) {
            if (std::binary_search(resident.begin(), resident.end(), kit)) continue;
            auto [found, fresh] = kits.try_emplace(kit);
            if (fresh) {
                found->second = part.pieces.push(whole.pieces[kit]);
                rest.kits.push_back(kit);
            }
            part.levels[number].kits.push_back(found->second);
        }
    }
    for (const LevelId level : what.asked) {
        if (const auto found = numbers.find(level); found != numbers.end())
            rest.asked.push_back(found->second);
    }
    return rest;
}

} // namespace

LoadTimes isolated_load(const Catalogue& catalogue, const IsolatedLoad& what) {
    const Rest rest = rest_of(catalogue, what);
    if (rest.asked.empty()) return {};
    Sequence sequence;
    Loader loader(rest.catalogue, sequence);
    loader.set_veiled(what.veiled);
    for (const LevelId level : rest.asked) loader.show(level, what.priority, 1);
    loader.run_until_idle();
    LoadTimes times;
    for (const Change& change : loader.take_changes()) {
        if (change.kind == ChangeKind::level_ready) times.ready = change.at;
        if (change.kind == ChangeKind::level_shown) times.shown = change.at;
    }
    return times;
}

struct AloneLoader::Inside {
    const Catalogue& whole;
    Rest rest;
    plan::Priority priority;
    bool veiled;

    /// Runs a loader until nothing is left to do.
    void run(Loader& loader, std::span<const std::size_t> order) const {
        loader.set_veiled(veiled);
        for (const std::size_t number : order) loader.show(rest.asked[number], priority, 1);
        loader.run_until_idle();
    }
    [[nodiscard]] PieceId piece_of(PieceId own) const {
        const std::size_t levels = rest.levels.size();
        return own.value < levels ? whole.piece_of(rest.levels[own.value])
                                  : rest.kits[own.value - levels];
    }
};

AloneLoader::AloneLoader(const Catalogue& catalogue, const IsolatedLoad& what)
    : inside_(new Inside{catalogue, rest_of(catalogue, what), what.priority, what.veiled}) {}
AloneLoader::~AloneLoader() = default;

std::size_t AloneLoader::count() const {
    return inside_->rest.asked.size();
}
LevelId AloneLoader::level(std::size_t number) const {
    return inside_->rest.levels[inside_->rest.asked[number].value];
}
std::size_t AloneLoader::pieces() const {
    return inside_->rest.catalogue.pieces.size();
}

Micros AloneLoader::time_of(std::span<const std::size_t> order,
                            std::span<const LevelId> awaited) const {
    Sequence sequence;
    Loader loader(inside_->rest.catalogue, sequence);
    inside_->run(loader, order);
    Micros last;
    for (const Change& change : loader.take_changes()) {
        if (change.kind != ChangeKind::level_shown) continue;
        const LevelId level = inside_->rest.levels[change.index];
        if (std::find(awaited.begin(), awaited.end(), level) != awaited.end()) last = change.at;
    }
    return last;
}

std::vector<AlonePiece> AloneLoader::detail_of(std::span<const std::size_t> order) const {
    Sequence sequence;
    Loader loader(inside_->rest.catalogue, sequence);
    inside_->run(loader, order);
    std::vector<AlonePiece> pieces;
    for (const LoadRecord& load : loader.loads()) {
        pieces.push_back({load, inside_->piece_of(load.piece), std::nullopt});
    }
    for (const Change& change : loader.take_changes()) {
        if (change.kind != ChangeKind::level_shown) continue;
        const PieceId piece = inside_->whole.piece_of(inside_->rest.levels[change.index]);
        for (AlonePiece& each : pieces) {
            if (each.piece == piece) each.shown = change.at;
        }
    }
    return pieces;
}

Micros load_alone_at_most(const Catalogue& catalogue, const IsolatedLoad& what) {
    const std::vector<LevelId> missing = missing_levels(catalogue, what);
    std::vector<PieceId> pieces;
    for (const LevelId level : missing)
        catalogue.for_pieces(level, [&](PieceId piece) { pieces.push_back(piece); });
    std::sort(pieces.begin(), pieces.end());
    pieces.erase(std::unique(pieces.begin(), pieces.end()), pieces.end());
    plan::Int128 most = 0;
    for (const PieceId piece : pieces) {
        const Piece& content = catalogue.pieces[piece];
        if (content.make) most += content.make->count;
        if (!content.read) continue;
        most += catalogue.read.latency.count;
        most += plan::duration_of(content.packed, catalogue.read.rate).count + 1;
        if (catalogue.unpack)
            most += plan::duration_of(content.unpacked, catalogue.unpack->rate).count;
    }
    plan::FrameTime frame = catalogue.frame;
    frame.base += catalogue.frame_cost(what.there) + catalogue.frame_cost(missing);
    for (const LevelId level : missing) {
        const std::int64_t work = catalogue.levels[level].attach_work.count;
        const std::int64_t slice =
            frame.attach ? frame.attach->count : std::max<std::int64_t>(work, 1);
        const std::int64_t frames = std::max<std::int64_t>(1, (work + slice - 1) / slice);
        const Micros length =
            next_multiple({frame.base.count + std::min(work, slice)}, frame.period);
        most += plan::Int128{frames + 1} * std::max(length, frame.period).count;
    }
    return plan::capped(most);
}

} // namespace hestrel::loading
