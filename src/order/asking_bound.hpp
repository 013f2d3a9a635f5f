#pragma once
// How soon players could go on at best, when the first few levels asked for are fixed: what cuts
// the search for the quickest order of asking short.

#include "loading/isolated.hpp"
#include "order/read_line.hpp"

#include <cstddef>
#include <cstdint>
#include <optional>
#include <vector>

namespace hestrel::order {

/// A growing and shrinking beginning of an order of asking, and a time before which no order that
/// begins so has shown all that is awaited. Reads start in order of asking; unpacking, making and
/// attaching (docs/model.md section 4) are looked at each for itself, as machines that are never
/// idle once their first piece is there, and what is not asked for yet as going through two
/// machines in a row, reading and one of them, in the best order for that (Johnson's rule).
class AskingBound {
public:
    /// `catalogue` must outlive it.
    AskingBound(const loading::Catalogue& catalogue, const loading::AloneLoader& loader,
                const std::vector<plan::LevelId>& awaited);

    /// The level of that number is asked for next.
    void push(std::size_t number);
    /// Takes the last one back.
    void pop();
    /// No order that begins so is quicker.
    [[nodiscard]] plan::Micros bound() const;
    /// When all that is awaited is shown, once every level is asked for: by what a loader does with
    /// levels that have no relatives and cost no frames. Unset where it can't tell, for a
    /// microsecond would decide.
    [[nodiscard]] std::optional<plan::Micros> whole_time() const;
    /// Whether two numbers stand for levels of the same figures, so that one order of the two is
    /// enough.
    [[nodiscard]] bool alike(std::size_t one, std::size_t other) const;

private:
    /// One piece at one machine.
    struct Job {
        std::int64_t from = 0; ///< not before
        std::int64_t takes = 0;
    };
    static std::int64_t done_by(std::vector<Job>& jobs, std::int64_t machines);

    /// A piece that some level of the list brings, and how long it is at the machines after
    /// reading.
    struct Brought {
        loading::PieceId piece;
        bool read = true;
        std::int64_t unpacking = 0;
        std::int64_t making = 0;
        std::int64_t attaching = 0;     ///< whole frames' time
        unsigned held = 0;              ///< how many pushed bring it
        std::size_t awaited = SIZE_MAX; ///< index into awaited_, or none
    };
    std::size_t brought(loading::PieceId piece);

    /// What is awaited, on its way through the machines; microseconds.
    struct Awaited {
        std::int64_t packed = 0; ///< bytes
        bool read = true;
        std::int64_t unpacking = 0;
        std::int64_t making = 0;
        std::int64_t attaching = 0;       ///< whole frames' time
        std::optional<std::size_t> asked; ///< its place in the line of reads
    };

    [[nodiscard]] std::int64_t reading_alone(const Awaited& each) const;
    [[nodiscard]] std::int64_t read_end(const Awaited& each) const;
    [[nodiscard]] std::int64_t attaching(plan::Micros work) const;
    [[nodiscard]] std::int64_t frame_from(std::int64_t moment) const;
    [[nodiscard]] std::optional<std::vector<std::int64_t>> resident_times() const;
    [[nodiscard]] bool pass_makers(std::vector<std::int64_t>& times) const;
    void sort_for_two_machines();
    [[nodiscard]] std::int64_t rest_by(std::int64_t least_attach) const;

    const loading::Catalogue& catalogue_;
    std::vector<Brought> brought_;
    std::vector<std::vector<std::size_t>> brings_; ///< of brought_, by number, in order of asking
    std::vector<Awaited> awaited_;
    std::vector<std::size_t> for_attaching_; ///< awaited_, in the best order for two machines
    std::vector<std::size_t> for_unpacking_;
    std::vector<std::size_t> pushed_;
    /// One piece asked for: of brought_, and its number among the reads where it is read.
    struct Asked {
        std::size_t piece;
        std::size_t read;
    };
    std::vector<Asked> line_; ///< in order of asking
    bool plain_ = true;       ///< levels have no relatives, and cost no frames once they are shown
    mutable std::vector<Job> unpacks_; ///< room for what is only looked at
    mutable std::vector<Job> makes_;
    mutable std::vector<Job> attaches_;
    ReadLine reads_;
};

} // namespace hestrel::order
