#include "loading/transfers.hpp"

#include <algorithm>

namespace hestrel::loading {

namespace {

using plan::Int128;
using plan::Micros;

/// One byte, in the unit of V.
constexpr Int128 byte = static_cast<Int128>(1'000'000) << 32;
/// A millionth of a byte: nearer to its end than this, a transfer has ended.
constexpr Int128 noise = byte / 1'000'000;

} // namespace

void Transfers::start(Micros now, PieceId piece, plan::Bytes size, std::uint64_t order) {
    now_ = now;
    if (active_.empty()) share_ = 0;
    active_.insert({share_ + static_cast<Int128>(size.count) * byte, order, piece});
    advance(now); // nothing to transfer: it has ended already
}

void Transfers::give_up(PieceId piece) {
    std::erase_if(active_, [&](const Active& transfer) { return transfer.piece == piece; });
    std::erase_if(ended_, [&](const Ended& transfer) { return transfer.piece == piece; });
}

void Transfers::advance(Micros now) {
    Int128 budget = (static_cast<Int128>(rate_.per_second) * (now.count - now_.count)) << 32;
    now_ = now;
    while (!active_.empty()) {
        const auto count = static_cast<Int128>(active_.size());
        const Active& first = *active_.begin();
        const Int128 needed = std::max<Int128>(0, (first.finish - share_) * count);
        if (needed > budget + noise) {
            share_ += budget / count;
            return;
        }
        share_ = std::max(share_, first.finish);
        budget = std::max<Int128>(0, budget - needed);
        ended_.insert({first.order, first.piece});
        active_.erase(active_.begin());
    }
}

std::optional<Transfers::End> Transfers::next_end() const {
    if (!ended_.empty()) return End{now_, ended_.begin()->order, ended_.begin()->piece};
    if (active_.empty()) return std::nullopt;
    const Active& first = *active_.begin();
    const auto count = static_cast<Int128>(active_.size());
    const Int128 needed = std::max<Int128>(0, (first.finish - share_) * count - noise);
    const Int128 per_micro = static_cast<Int128>(rate_.per_second) << 32;
    return End{now_ + plan::capped((needed + per_micro - 1) / per_micro), first.order, first.piece};
}

void Transfers::take_end() {
    ended_.erase(ended_.begin());
}

} // namespace hestrel::loading
