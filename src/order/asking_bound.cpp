#include "order/asking_bound.hpp"

#include <algorithm>
#include <numeric>

namespace hestrel::order {

using loading::AlonePiece;
using loading::PieceId;
using plan::Micros;

namespace {

constexpr std::size_t not_awaited = SIZE_MAX;
/// Microseconds by which a read may end sooner than ReadLine says, which rounds elsewhere.
constexpr std::int64_t unsure = 2;

/// What is next at a machine that takes things in order of coming, then of asking.
struct Turn {
    std::int64_t from;
    std::size_t index; ///< in order of asking
};

/// False where which comes first hangs on what ReadLine is not sure of.
bool sort_turns(std::vector<Turn>& turns) {
    std::sort(turns.begin(), turns.end(), [](const Turn& one, const Turn& other) {
        return std::pair(one.from, one.index) < std::pair(other.from, other.index);
    });
    const auto too_near = [](const Turn& one, const Turn& other) {
        return one.from != other.from && other.from - one.from <= unsure;
    };
    return std::adjacent_find(turns.begin(), turns.end(), too_near) == turns.end();
}

} // namespace

/// When `machines` alike machines can be done with all jobs at the earliest: those that come last
/// cannot begin before the first of them is there.
std::int64_t AskingBound::done_by(std::vector<Job>& jobs, std::int64_t machines) {
    std::sort(jobs.begin(), jobs.end(),
              [](const Job& one, const Job& other) { return one.from > other.from; });
    std::int64_t done = 0;
    std::int64_t sum = 0;
    for (const Job& job : jobs) {
        sum += job.takes;
        done = std::max({done, job.from + (sum + machines - 1) / machines, job.from + job.takes});
    }
    return done;
}

AskingBound::AskingBound(const loading::Catalogue& catalogue, const loading::AloneLoader& loader,
                         const std::vector<plan::LevelId>& awaited)
    : catalogue_(catalogue), reads_(catalogue.read) {
    for (std::size_t number = 0; number < loader.count(); ++number) {
        std::vector<std::size_t> brings;
        std::size_t levels = 0;
        for (const AlonePiece& piece : loader.detail_of(std::vector<std::size_t>{number})) {
            brings.push_back(brought(piece.piece));
            if (!catalogue.is_level(piece.piece)) continue;
            ++levels;
            plain_ =
                plain_ && catalogue.levels[catalogue.level_of(piece.piece)].frame_cost.count == 0;
            Brought& content = brought_[brings.back()];
            const bool counts = std::find(awaited.begin(), awaited.end(),
                                          catalogue.level_of(piece.piece)) != awaited.end();
            if (!counts || content.awaited != not_awaited) continue;
            content.awaited = awaited_.size();
            awaited_.push_back({catalogue.pieces[piece.piece].packed.count, content.read,
                                content.unpacking, content.making, content.attaching,
                                std::nullopt});
        }
        plain_ = plain_ && levels == 1;
        brings_.push_back(std::move(brings));
    }
    sort_for_two_machines();
}

/// The index of a piece among those that are brought; lists are short.
std::size_t AskingBound::brought(PieceId piece) {
    const auto found = std::find_if(brought_.begin(), brought_.end(),
                                    [&](const Brought& each) { return each.piece == piece; });
    if (found != brought_.end()) return static_cast<std::size_t>(found - brought_.begin());
    Brought fresh;
    fresh.piece = piece;
    const loading::Piece& content = catalogue_.pieces[piece];
    fresh.read = content.read;
    if (catalogue_.unpack && content.read)
        fresh.unpacking = plan::duration_of(content.unpacked, catalogue_.unpack->rate).count;
    if (content.make) fresh.making = content.make->count;
    if (catalogue_.is_level(piece))
        fresh.attaching = attaching(catalogue_.levels[catalogue_.level_of(piece)].attach_work);
    brought_.push_back(fresh);
    return brought_.size() - 1;
}

void AskingBound::sort_for_two_machines() {
    // Johnson's rule.
    const auto sorted = [&](auto&& first, auto&& second) {
        std::vector<std::size_t> order(awaited_.size());
        std::iota(order.begin(), order.end(), 0);
        const auto key = [&](std::size_t index) {
            const std::int64_t one = first(awaited_[index]);
            const std::int64_t other = second(awaited_[index]);
            return std::pair(one > other, one > other ? -other : one);
        };
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t one, std::size_t other) { return key(one) < key(other); });
        return order;
    };
    for_attaching_ = sorted([&](const Awaited& each) { return reading_alone(each); },
                            [&](const Awaited& each) { return each.attaching; });
    for_unpacking_ = sorted([&](const Awaited& each) { return reading_alone(each); },
                            [&](const Awaited& each) { return each.unpacking; });
}

std::int64_t AskingBound::frame_from(std::int64_t moment) const {
    return plan::next_multiple({moment}, catalogue_.frame.period).count;
}

std::int64_t AskingBound::attaching(Micros work) const {
    const plan::FrameTime& frame = catalogue_.frame;
    const auto length = [&](std::int64_t of_work) {
        return std::max(plan::next_multiple({frame.base.count + of_work}, frame.period),
                        frame.period)
            .count;
    };
    if (!frame.attach || frame.attach->count <= 0) return length(work.count);
    const std::int64_t full = work.count / frame.attach->count;
    const std::int64_t rest = work.count % frame.attach->count;
    const std::int64_t frames = full > 0 ? full * length(frame.attach->count) : 0;
    return frames + (rest > 0 || full == 0 ? length(rest) : 0);
}

/// What a read adds to a disk that is never idle.
std::int64_t AskingBound::reading_alone(const Awaited& each) const {
    const plan::ReadSettings& read = catalogue_.read;
    return (read.parallel == 1 ? read.latency.count : 0) +
           each.packed * 1'000'000 / read.rate.per_second;
}

void AskingBound::push(std::size_t number) {
    pushed_.push_back(number);
    for (const std::size_t index : brings_[number]) {
        Brought& piece = brought_[index];
        if (piece.held++ > 0) continue;
        if (piece.awaited != not_awaited) awaited_[piece.awaited].asked = reads_.ends().size();
        line_.push_back({index, reads_.ends().size()});
        if (piece.read) reads_.push(catalogue_.pieces[piece.piece].packed.count);
    }
}

void AskingBound::pop() {
    for (const std::size_t index : brings_[pushed_.back()]) {
        Brought& piece = brought_[index];
        if (--piece.held > 0) continue;
        if (piece.awaited != not_awaited) awaited_[piece.awaited].asked.reset();
        if (piece.read) reads_.pop();
        line_.pop_back();
    }
    pushed_.pop_back();
}

/// When it can have been read at the earliest.
std::int64_t AskingBound::read_end(const Awaited& each) const {
    if (!each.read) return 0;
    const std::int64_t end =
        each.asked ? reads_.ends()[*each.asked] : reads_.end_of_next(each.packed);
    return std::max<std::int64_t>(0, end - unsure);
}

/// When all that is still to be asked for, and read, can be there.
std::int64_t AskingBound::rest_by(std::int64_t least_attach) const {
    std::int64_t smallest = plan::Micros::never().count;
    std::int64_t between = plan::Micros::never().count; // reading and attaching, at least
    for (const Awaited& each : awaited_) {
        if (each.asked || !each.read) continue;
        smallest = std::min(smallest, each.packed);
        between = std::min(between, each.unpacking + each.making);
    }
    if (smallest == plan::Micros::never().count) return 0;
    const std::int64_t from = std::max<std::int64_t>(0, reads_.free_from(smallest) - unsure);
    std::int64_t read = from;
    std::int64_t attached = 0;
    for (const std::size_t index : for_attaching_) {
        const Awaited& each = awaited_[index];
        if (each.asked || !each.read) continue;
        read += reading_alone(each);
        attached = std::max(attached, read + between) + each.attaching;
    }
    if (!catalogue_.unpack || catalogue_.unpack->workers > 1) return attached;
    read = from;
    std::int64_t unpacked = 0;
    for (const std::size_t index : for_unpacking_) {
        const Awaited& each = awaited_[index];
        if (each.asked || !each.read) continue;
        read += reading_alone(each);
        unpacked = std::max(unpacked, read) + each.unpacking;
    }
    return std::max(attached, unpacked + least_attach);
}

Micros AskingBound::bound() const {
    unpacks_.clear();
    makes_.clear();
    attaches_.clear();
    std::int64_t least_attach = awaited_.empty() ? 0 : plan::Micros::never().count;
    bool all_asked = true;
    for (const Awaited& each : awaited_) {
        const std::int64_t read = read_end(each);
        unpacks_.push_back({read, each.unpacking});
        const std::int64_t unpacked = read + each.unpacking;
        makes_.push_back({unpacked, each.making});
        attaches_.push_back({frame_from(unpacked + each.making), each.attaching});
        least_attach = std::min(least_attach, each.attaching);
        all_asked = all_asked && each.asked.has_value();
    }
    std::int64_t bound = done_by(attaches_, 1);
    if (catalogue_.unpack) {
        const std::int64_t unpacked = done_by(unpacks_, catalogue_.unpack->workers);
        bound = std::max(bound, frame_from(unpacked) + least_attach);
    }
    const std::int64_t made = done_by(makes_, catalogue_.makers);
    bound = std::max(bound, frame_from(made) + least_attach);
    return {frame_from(all_asked ? bound : std::max(bound, rest_by(least_attach)))};
}

/// In order of asking; unset where which comes first hangs on a microsecond.
std::optional<std::vector<std::int64_t>> AskingBound::resident_times() const {
    std::vector<Turn> turns;
    std::vector<std::int64_t> times(line_.size());
    for (std::size_t i = 0; i < line_.size(); ++i) {
        if (brought_[line_[i].piece].read) turns.push_back({reads_.ends()[line_[i].read], i});
    }
    if (!sort_turns(turns)) return std::nullopt;
    std::vector<std::int64_t> free_from(catalogue_.unpack ? catalogue_.unpack->workers : 0);
    for (const Turn& turn : turns) {
        times[turn.index] = turn.from;
        if (!catalogue_.unpack) continue;
        const auto worker = std::min_element(free_from.begin(), free_from.end());
        *worker = std::max(*worker, turn.from) + brought_[line_[turn.index].piece].unpacking;
        times[turn.index] = *worker;
    }
    if (!pass_makers(times)) return std::nullopt;
    return times;
}

/// From when each piece can be made to when it is; false where which comes first is not sure.
bool AskingBound::pass_makers(std::vector<std::int64_t>& times) const {
    const auto is_made = [&](std::size_t i) {
        return catalogue_.pieces[brought_[line_[i].piece].piece].make.has_value();
    };
    std::vector<Turn> turns;
    for (std::size_t i = 0; i < line_.size(); ++i) {
        if (is_made(i)) turns.push_back({times[i], i});
    }
    if (!sort_turns(turns)) return false;
    // What is read and unpacked at one moment comes in the order in which unpacking began.
    const auto tied = [&](const Turn& one, const Turn& other) {
        return one.from == other.from &&
               (brought_[line_[one.index].piece].read || brought_[line_[other.index].piece].read);
    };
    if (std::adjacent_find(turns.begin(), turns.end(), tied) != turns.end()) return false;
    std::vector<std::int64_t> free_from(catalogue_.makers);
    for (const Turn& turn : turns) {
        const auto maker = std::min_element(free_from.begin(), free_from.end());
        *maker = std::max(*maker, turn.from) + brought_[line_[turn.index].piece].making;
        times[turn.index] = *maker;
    }
    return true;
}

std::optional<Micros> AskingBound::whole_time() const {
    if (!plain_) return std::nullopt;
    const auto times = resident_times();
    if (!times) return std::nullopt;
    const auto resident_at = [&](PieceId piece) {
        const auto at = std::find_if(line_.begin(), line_.end(), [&](const Asked& each) {
            return brought_[each.piece].piece == piece;
        });
        return at == line_.end() ? 0 : (*times)[static_cast<std::size_t>(at - line_.begin())];
    };
    std::vector<Turn> turns;
    for (std::size_t i = 0; i < line_.size(); ++i) {
        const PieceId piece = brought_[line_[i].piece].piece;
        if (!catalogue_.is_level(piece)) continue;
        std::int64_t ready = (*times)[i];
        for (const PieceId kit : catalogue_.levels[catalogue_.level_of(piece)].kits)
            ready = std::max(ready, resident_at(kit));
        turns.push_back({ready, i});
    }
    if (!sort_turns(turns)) return std::nullopt;
    std::int64_t free = 0;
    std::int64_t last = 0;
    for (const Turn& turn : turns) {
        const std::int64_t from = std::max(free, turn.from);
        if (turn.from >= free && frame_from(from - unsure) != frame_from(from + unsure))
            return std::nullopt;
        const Brought& piece = brought_[line_[turn.index].piece];
        free = frame_from(from) + piece.attaching;
        if (piece.awaited != not_awaited) last = free;
    }
    return Micros{last};
}

bool AskingBound::alike(std::size_t one, std::size_t other) const {
    if (brings_[one].size() != 1 || brings_[other].size() != 1) return false;
    const Brought& one_brought = brought_[brings_[one][0]];
    const Brought& other_brought = brought_[brings_[other][0]];
    if ((one_brought.awaited == not_awaited) != (other_brought.awaited == not_awaited))
        return false;
    const PieceId first = one_brought.piece;
    const PieceId second = other_brought.piece;
    const loading::Piece& content = catalogue_.pieces[first];
    const loading::Piece& same = catalogue_.pieces[second];
    return content.packed == same.packed && content.unpacked == same.unpacked &&
           content.read == same.read && content.make == same.make &&
           catalogue_.levels[catalogue_.level_of(first)].frame_cost ==
               catalogue_.levels[catalogue_.level_of(second)].frame_cost &&
           catalogue_.levels[catalogue_.level_of(first)].attach_work ==
               catalogue_.levels[catalogue_.level_of(second)].attach_work;
}

} // namespace hestrel::order
