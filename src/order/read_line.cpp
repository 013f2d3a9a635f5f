#include "order/read_line.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace hestrel::order {

namespace {

constexpr double no_end = std::numeric_limits<double>::infinity();
/// Of a microsecond and of a byte: less than this is lost in calculating.
constexpr double noise = 1e-3;

/// Ends are announced at whole microseconds.
double announced(double moment) {
    return std::ceil(moment - noise);
}

std::int64_t whole(double moment) {
    constexpr double longest = 1e17; // three thousand years: sums of a few stay numbers
    return static_cast<std::int64_t>(std::min(announced(moment), longest));
}

} // namespace

ReadLine::ReadLine(const plan::ReadSettings& reading)
    : rate_(static_cast<double>(reading.rate.per_second) / 1e6),
      latency_(static_cast<double>(reading.latency.count)), parallel_(reading.parallel),
      states_(1) {}

void ReadLine::advance(Reads& reads, double until, std::vector<std::int64_t>* ends) const {
    double next = until;
    double least = no_end;
    double sharing = 0;
    for (const Read& read : reads.in_progress) {
        if (read.from > reads.now) {
            next = std::min(next, read.from);
        } else {
            least = std::min(least, read.left);
            ++sharing;
        }
    }
    const double end = sharing > 0 ? reads.now + least * sharing / rate_ : no_end;
    next = std::min(next, end);
    // At an end the one with the least left is done, whatever calculating has lost.
    double each = 0;
    if (sharing > 0) each = next == end ? least : (next - reads.now) * rate_ / sharing;
    for (Read& read : reads.in_progress) {
        if (read.from <= reads.now) read.left -= each;
    }
    std::erase_if(reads.in_progress, [&](const Read& read) {
        const bool done = read.from <= reads.now && read.left <= noise;
        if (done && ends != nullptr) (*ends)[read.number] = whole(next);
        return done;
    });
    reads.now = next;
}

void ReadLine::wait_for_room(Reads& reads) const {
    while (reads.in_progress.size() >= parallel_) advance(reads, no_end);
    const double start = announced(reads.now);
    while (reads.now < start) advance(reads, start);
}

void ReadLine::start(Reads& reads, std::size_t number, std::int64_t packed) const {
    wait_for_room(reads);
    reads.in_progress.push_back({number, reads.now + latency_, static_cast<double>(packed)});
}

void ReadLine::push(std::int64_t packed) {
    if (states_.size() == size_ + 1) states_.emplace_back();
    State& next = states_[size_ + 1];
    next = states_[size_];
    start(next.reads, size_, packed);
    next.ends.push_back(0);
    ++size_;
    // Those in progress share with the new one from now on.
    scratch_ = next.reads;
    while (!scratch_.in_progress.empty()) advance(scratch_, no_end, &next.ends);
}

std::int64_t ReadLine::end_of_next(std::int64_t packed) const {
    scratch_ = states_[size_].reads;
    start(scratch_, size_, packed);
    const auto is_it = [&](const Read& read) { return read.number == size_; };
    while (std::any_of(scratch_.in_progress.begin(), scratch_.in_progress.end(), is_it))
        advance(scratch_, no_end);
    return whole(scratch_.now);
}

std::int64_t ReadLine::free_from(std::int64_t smallest) const {
    scratch_ = states_[size_].reads;
    wait_for_room(scratch_);
    double before = 0;
    for (const Read& read : scratch_.in_progress)
        before += std::min(read.left, static_cast<double>(smallest));
    const double shared = scratch_.now + before / rate_;
    // Where one is read at a time, its latency is part of what each takes.
    const double alone = parallel_ == 1 ? scratch_.now : scratch_.now + latency_;
    return whole(std::max(shared, alone) - 1);
}

} // namespace hestrel::order
