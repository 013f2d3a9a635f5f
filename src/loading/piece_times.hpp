#pragma once
// One piece's way through the loader (docs/model.md section 4): when each stage began and ended.

#include "plan/units.hpp"

#include <array>
#include <optional>

namespace hestrel::loading {

/// Times of one request; unset where it never came to that, or the piece skips that stage.
struct PieceTimes {
    std::optional<plan::Micros> read_start, read_end, unpack_start, unpack_end, make_start,
        make_end;

    /// When all that is done to it off the main thread was over.
    [[nodiscard]] std::optional<plan::Micros> resident() const {
        return make_end ? make_end : unpack_end ? unpack_end : read_end;
    }
    /// When the first of it began, apart from waiting.
    [[nodiscard]] std::optional<plan::Micros> begun() const {
        return read_start ? read_start : make_start;
    }
};

/// Each of the times, with the name of its column in tables.
struct PieceTime {
    const char* column;
    std::optional<plan::Micros> PieceTimes::*time;
};
inline constexpr std::array piece_times{PieceTime{"read_start_s", &PieceTimes::read_start},
                                        PieceTime{"read_end_s", &PieceTimes::read_end},
                                        PieceTime{"unpack_start_s", &PieceTimes::unpack_start},
                                        PieceTime{"unpack_end_s", &PieceTimes::unpack_end},
                                        PieceTime{"make_start_s", &PieceTimes::make_start},
                                        PieceTime{"make_end_s", &PieceTimes::make_end}};

} // namespace hestrel::loading
