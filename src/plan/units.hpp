#pragma once
// Units as types. Time is a whole number of microseconds (docs/model.md section 3); memory is a
// whole number of bytes, so that what is taken and what is given back cancel exactly.

#include <compare>
#include <cstdint>
#include <limits>

namespace hestrel::plan {

/// Wide enough for bytes x microseconds without overflow. Not ISO C++, hence the `__extension__`.
__extension__ using Int128 = __int128;

/// A moment (since time 0 of a walk) or a duration, in microseconds.
struct Micros {
    std::int64_t count = 0;

    constexpr auto operator<=>(const Micros&) const = default;
    constexpr Micros operator+(Micros other) const { return {count + other.count}; }
    constexpr Micros operator-(Micros other) const { return {count - other.count}; }
    constexpr Micros& operator+=(Micros other) {
        count += other.count;
        return *this;
    }
    constexpr Micros& operator-=(Micros other) {
        count -= other.count;
        return *this;
    }
    constexpr Micros operator*(std::int64_t times) const { return {count * times}; }
    /// A moment that never comes.
    static constexpr Micros never() { return {std::numeric_limits<std::int64_t>::max()}; }
};

constexpr Micros seconds(std::int64_t count) {
    return {count * 1'000'000};
}
constexpr Micros milliseconds(std::int64_t count) {
    return {count * 1'000};
}

/// An amount of memory or of stored data, in bytes.
struct Bytes {
    std::int64_t count = 0;

    constexpr auto operator<=>(const Bytes&) const = default;
    constexpr Bytes operator+(Bytes other) const { return {count + other.count}; }
    constexpr Bytes operator-(Bytes other) const { return {count - other.count}; }
    constexpr Bytes& operator+=(Bytes other) {
        count += other.count;
        return *this;
    }
    constexpr Bytes& operator-=(Bytes other) {
        count -= other.count;
        return *this;
    }
};

/// `count` MiB (2^20 bytes each), the plan's base unit of memory.
constexpr Bytes mebibytes(std::int64_t count) {
    return {count << 20};
}
constexpr double in_mebibytes(Bytes size) {
    return static_cast<double>(size.count) / 1048576.0;
}
constexpr double in_seconds(Micros time) {
    return static_cast<double>(time.count) / 1e6;
}

/// A data rate, in bytes a second; never 0 in a plan that was read without error.
struct ByteRate {
    std::int64_t per_second = 1;
};

/// Durations computed from absurd figures end here (35 years), far from where sums could overflow.
constexpr std::int64_t longest_micros = std::int64_t{1} << 50;

constexpr Micros capped(Int128 micros) {
    return {static_cast<std::int64_t>(micros < longest_micros ? micros : Int128{longest_micros})};
}

/// How long `size` takes at `rate`, rounded up to the microsecond (docs/model.md section 3).
constexpr Micros duration_of(Bytes size, ByteRate rate) {
    const Int128 exact = static_cast<Int128>(size.count) * 1'000'000;
    return capped((exact + rate.per_second - 1) / rate.per_second);
}

/// A cost per object, in nanoseconds: finer than a microsecond because there are thousands of
/// objects.
struct NanosPerObject {
    std::int64_t count = 0;
};

/// Main-thread work for `objects` objects, rounded up to the microsecond.
constexpr Micros work_for(std::int64_t objects, NanosPerObject cost) {
    const Int128 exact = static_cast<Int128>(objects) * cost.count;
    return capped((exact + 999) / 1000);
}

/// How often a machine does a thing in the time that it is given for it, in millionths: a maker of
/// speed 2 takes half the time.
struct SpeedFactor {
    std::int64_t millionths = 1'000'000;
};

/// How long what takes `time` at speed 1 takes at `speed`, rounded up to the microsecond.
constexpr Micros at_speed(Micros time, SpeedFactor speed) {
    const Int128 exact = static_cast<Int128>(time.count) * 1'000'000;
    return capped((exact + speed.millionths - 1) / speed.millionths);
}

/// The first whole multiple of `period` that is not before `moment`. `period` > 0.
constexpr Micros next_multiple(Micros moment, Micros period) {
    return {(moment.count + period.count - 1) / period.count * period.count};
}

} // namespace hestrel::plan
