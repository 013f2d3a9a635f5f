#include "order/stable_order.hpp"

#include <algorithm>
#include <set>
#include <utility>

namespace hestrel::order {

using plan::Micros;

namespace {

using Graph = std::vector<std::vector<std::size_t>>;

Graph successors(std::size_t count, const std::vector<Need>& needs) {
    Graph after(count);
    for (const Need& need : needs) after[need.before].push_back(need.after);
    return after;
}

/// Sets of things that all need each other (Tarjan's algorithm, without recursion).
class Components {
public:
    explicit Components(const Graph& after)
        : after_(after), number_(after.size(), 0), lowest_(after.size(), 0),
          of_(after.size(), none) {
        for (std::size_t i = 0; i < after.size(); ++i) {
            if (number_[i] == 0) visit(i);
        }
    }
    [[nodiscard]] std::size_t of(std::size_t thing) const { return of_[thing]; }

private:
    static constexpr std::size_t none = static_cast<std::size_t>(-1);

    void open(std::size_t thing) {
        number_[thing] = lowest_[thing] = ++count_;
        open_.push_back(thing);
        way_.emplace_back(thing, 0);
    }

    void visit(std::size_t start) {
        open(start);
        while (!way_.empty()) {
            auto& [thing, next] = way_.back();
            if (next < after_[thing].size()) {
                const std::size_t to = after_[thing][next++];
                if (number_[to] == 0) {
                    open(to);
                } else if (of_[to] == none) {
                    lowest_[thing] = std::min(lowest_[thing], number_[to]);
                }
                continue;
            }
            const std::size_t done = thing;
            way_.pop_back();
            if (!way_.empty())
                lowest_[way_.back().first] = std::min(lowest_[way_.back().first], lowest_[done]);
            if (lowest_[done] == number_[done]) close(done);
        }
    }

    void close(std::size_t root) {
        std::size_t thing = none;
        do {
            thing = open_.back();
            open_.pop_back();
            of_[thing] = components_;
        } while (thing != root);
        ++components_;
    }

    const Graph& after_;
    std::vector<std::size_t> number_;
    std::vector<std::size_t> lowest_;
    std::vector<std::size_t> of_;
    std::vector<std::size_t> open_;
    std::vector<std::pair<std::size_t, std::size_t>> way_;
    std::size_t count_ = 0;
    std::size_t components_ = 0;
};

/// The needs that can be met: all but those within a circle.
std::vector<Need> outside_circles(std::size_t count, const std::vector<Need>& needs) {
    const Graph after = successors(count, needs);
    const Components components(after);
    std::vector<Need> kept;
    for (const Need& need : needs) {
        if (components.of(need.before) != components.of(need.after)) kept.push_back(need);
    }
    return kept;
}

/// Everything that must come after a thing.
std::vector<bool> all_after(const Graph& after, std::size_t thing) {
    std::vector<bool> reached(after.size());
    std::vector<std::size_t> open{thing};
    while (!open.empty()) {
        const std::size_t next = open.back();
        open.pop_back();
        for (const std::size_t to : after[next]) {
            if (reached[to]) continue;
            reached[to] = true;
            open.push_back(to);
        }
    }
    return reached;
}

/// A shortest way from a thing back to itself.
std::vector<std::size_t> circle_through(const Graph& after, std::size_t start) {
    constexpr auto none = static_cast<std::size_t>(-1);
    std::vector<std::size_t> from(after.size(), none);
    std::vector<std::size_t> open{start};
    for (std::size_t at = 0; at < open.size(); ++at) {
        for (const std::size_t to : after[open[at]]) {
            if (to == start) {
                std::vector<std::size_t> circle;
                for (std::size_t step = open[at]; step != start; step = from[step])
                    circle.push_back(step);
                circle.push_back(start);
                std::reverse(circle.begin(), circle.end());
                return circle;
            }
            if (from[to] != none) continue;
            from[to] = open[at];
            open.push_back(to);
        }
    }
    return {};
}

/// Which things keep their order: a longest run of rising positions.
std::vector<bool> staying(const std::vector<std::size_t>& order) {
    std::vector<std::size_t> ends;                               // of runs, by length - 1
    std::vector<std::size_t> before(order.size(), order.size()); // by place in `order`
    for (std::size_t i = 0; i < order.size(); ++i) {
        const auto at = std::lower_bound(
            ends.begin(), ends.end(), order[i],
            [&](std::size_t end, std::size_t thing) { return order[end] < thing; });
        if (at != ends.begin()) before[i] = *std::prev(at);
        if (at == ends.end()) {
            ends.push_back(i);
        } else {
            *at = i;
        }
    }
    std::vector<bool> stays(order.size());
    for (std::size_t i = ends.empty() ? order.size() : ends.back(); i < order.size(); i = before[i])
        stays[order[i]] = true;
    return stays;
}

} // namespace

std::vector<std::size_t> stable_order(const Things& things) {
    const std::size_t count = things.moments.size();
    using Key = std::pair<Micros, std::size_t>;
    std::vector<Key> keys;
    Micros last;
    for (std::size_t i = 0; i < count; ++i) {
        last = things.moments[i].value_or(last);
        keys.emplace_back(last, i);
    }
    const std::vector<Need> needs = outside_circles(count, things.needs);
    const Graph after = successors(count, needs);
    std::vector<std::size_t> missing(count);
    for (const Need& need : needs) ++missing[need.after];
    std::set<Key> ready;
    std::set<Key> waiting;
    for (std::size_t i = 0; i < count; ++i) {
        if (!things.pinned[i]) (missing[i] == 0 ? ready : waiting).insert(keys[i]);
    }
    std::vector<std::size_t> order;
    for (std::size_t position = 0; position < count; ++position) {
        std::size_t thing = position;
        if (!things.pinned[position]) {
            // Where all wait for something pinned further on, the first of them goes all the same.
            std::set<Key>& from = ready.empty() ? waiting : ready;
            thing = from.begin()->second;
            from.erase(from.begin());
        }
        order.push_back(thing);
        for (const std::size_t to : after[thing]) {
            if (--missing[to] == 0 && waiting.erase(keys[to]) > 0) ready.insert(keys[to]);
        }
    }
    return order;
}

std::vector<std::vector<std::size_t>> circles(std::size_t count, const std::vector<Need>& needs) {
    const Graph after = successors(count, needs);
    const Components components(after);
    Graph within(count);
    for (const Need& need : needs) {
        if (components.of(need.before) == components.of(need.after))
            within[need.before].push_back(need.after);
    }
    std::vector<std::vector<std::size_t>> found;
    std::set<std::size_t> told;
    for (std::size_t i = 0; i < count; ++i) {
        if (within[i].empty() || !told.insert(components.of(i)).second) continue;
        std::vector<std::size_t> circle = circle_through(within, i);
        if (!circle.empty()) found.push_back(std::move(circle));
    }
    return found;
}

std::vector<Relocation> moves_to(const Things& things, const std::vector<std::size_t>& order) {
    const std::size_t count = order.size();
    const std::vector<bool> stays = staying(order);
    const Graph after = successors(count, outside_circles(count, things.needs));
    std::vector<Relocation> moves;
    for (std::size_t to = 0; to < count; ++to) {
        const std::size_t thing = order[to];
        if (stays[thing]) continue;
        Relocation move{thing, thing, to, thing, false};
        const std::vector<bool> later = all_after(after, thing);
        // Of those on whose other side it stood, one that needs it or that it needs; else the
        // nearest whose moment is known.
        int best = -1;
        const auto consider = [&](std::size_t other, bool need) {
            const int worth = need ? 2 : things.moments[other] ? 1 : 0;
            if (worth <= best) return;
            best = worth;
            move = {thing, thing, to, other, need};
        };
        for (std::size_t at = to + 1; at < count; ++at) {
            if (order[at] < thing && stays[order[at]]) consider(order[at], later[order[at]]);
        }
        for (std::size_t at = to; at-- > 0;) {
            if (order[at] > thing && stays[order[at]])
                consider(order[at], all_after(after, order[at])[thing]);
        }
        moves.push_back(move);
    }
    return moves;
}

} // namespace hestrel::order
