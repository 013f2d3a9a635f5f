#pragma once
// The reads of pieces that are asked for all at once, one after another: when each starts, and when
// it ends if nothing more is asked for.

#include "loading/catalogue.hpp"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace hestrel::order {

/// A line of reads that grows and shrinks at its end. Reads start in order of asking, as many at a
/// time as the device allows, and share its rate (docs/model.md section 4); what is asked for later
/// makes no earlier one end sooner. Times are microseconds, and may be short by one.
class ReadLine {
public:
    explicit ReadLine(const plan::ReadSettings& reading);

    /// Asks for a piece of so many bytes next.
    void push(std::int64_t packed);
    /// Takes the last one back.
    void pop() { --size_; }

    /// When each read ends if nothing more is asked for, in order of asking.
    [[nodiscard]] const std::vector<std::int64_t>& ends() const { return states_[size_].ends; }
    /// When a piece of so many bytes ends if it is asked for next; later, no sooner.
    [[nodiscard]] std::int64_t end_of_next(std::int64_t packed) const;
    /// From when on the rate is there for what is asked for later, where none of that has fewer
    /// bytes than `smallest`: by the time that any of it is read, what is in progress has got as
    /// much, or is done.
    [[nodiscard]] std::int64_t free_from(std::int64_t smallest) const;

private:
    /// A read in progress.
    struct Read {
        std::size_t number; ///< in order of asking
        double from;        ///< when its latency is over
        double left;        ///< bytes
    };
    struct Reads {
        double now = 0;
        std::vector<Read> in_progress;
    };
    struct State {
        Reads reads; ///< when the last one pushed has started
        std::vector<std::int64_t> ends;
    };

    /// Lets time pass to the next moment at which a transfer begins or ends, but not beyond
    /// `until`. Where given, `ends` learns when reads end.
    void advance(Reads& reads, double until, std::vector<std::int64_t>* ends = nullptr) const;
    void wait_for_room(Reads& reads) const;
    void start(Reads& reads, std::size_t number, std::int64_t packed) const;

    double rate_; ///< bytes a microsecond
    double latency_;
    std::size_t parallel_;
    std::size_t size_ = 0;      ///< how many are pushed
    std::vector<State> states_; ///< by that; beyond it, room to use again
    mutable Reads scratch_;     ///< room for what is only looked at
};

} // namespace hestrel::order
