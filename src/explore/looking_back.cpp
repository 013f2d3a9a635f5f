#include "explore/looking_back.hpp"

#include "explore/explorer_expand.hpp"

namespace hestrel::explore {

namespace {

constexpr std::size_t most_edges = 64'000'000;

class Spreading {
public:
    Spreading(const Explorer& explorer, std::uint8_t spreads,
              const std::function<bool(std::uint32_t, const Outcome&)>& leads,
              std::vector<std::uint8_t>& bits)
        : explorer_(explorer), spreads_(spreads), leads_(leads), bits_(bits) {}

    void run() {
        pass([&](std::uint32_t situation, const std::vector<std::uint32_t>& next) {
            for (const std::uint32_t each : next) bits_[situation] |= bits_[each];
        });
        if (remember()) {
            while (pass_over_remembered()) {
            }
        } else {
            while (pass_over_all()) {
            }
        }
    }

private:
    struct Left {
        std::uint32_t situation;
        std::size_t end; ///< of what it leads to
    };

    [[nodiscard]] bool is_settled(std::uint32_t situation) const {
        return (bits_[situation] & spreads_) == spreads_;
    }
    /// Over all that are not settled, from the last to the first.
    template <class What>
    void pass(What&& what) const {
        const auto wanted = [&](std::uint32_t situation) { return !is_settled(situation); };
        if (!explorer_.options().quit_anywhere) {
            explorer_.for_successors_backwards(wanted, what);
            return;
        }
        std::vector<std::uint32_t> next;
        for (auto i = static_cast<std::uint32_t>(explorer_.situations()); i-- > 0;) {
            if (!wanted(i)) continue;
            next.clear();
            explorer_.for_successors(i, [&](std::uint32_t to, const Outcome& outcome) {
                if (leads_(i, outcome)) next.push_back(to);
            });
            what(i, next);
        }
    }
    /// What those lead to that are not settled; false: there is too much of it.
    bool remember() {
        pass([&](std::uint32_t situation, const std::vector<std::uint32_t>& next) {
            if (edges_.size() + next.size() > most_edges) fits_ = false;
            if (!fits_) return;
            edges_.insert(edges_.end(), next.begin(), next.end());
            left_.push_back({situation, edges_.size()});
        });
        return fits_;
    }
    bool pass_over_remembered() {
        bool changed = false;
        std::size_t at = 0;
        for (const Left& each : left_) {
            std::uint8_t& bits = bits_[each.situation];
            const std::uint8_t before = bits;
            for (; at < each.end; ++at) bits |= bits_[edges_[at]];
            changed = changed || bits != before;
        }
        return changed;
    }
    bool pass_over_all() {
        bool changed = false;
        pass([&](std::uint32_t situation, const std::vector<std::uint32_t>& next) {
            const std::uint8_t before = bits_[situation];
            for (const std::uint32_t each : next) bits_[situation] |= bits_[each];
            changed = changed || bits_[situation] != before;
        });
        return changed;
    }

    const Explorer& explorer_;
    std::uint8_t spreads_;
    const std::function<bool(std::uint32_t, const Outcome&)>& leads_;
    std::vector<std::uint8_t>& bits_;
    std::vector<Left> left_;
    std::vector<std::uint32_t> edges_;
    bool fits_ = true;
};

} // namespace

void spread_back(const Explorer& explorer, std::uint8_t spreads,
                 const std::function<bool(std::uint32_t, const Outcome&)>& leads,
                 std::vector<std::uint8_t>& bits) {
    if (spreads != 0) Spreading(explorer, spreads, leads, bits).run();
}

} // namespace hestrel::explore
