#include "spread/variation.hpp"

#include <algorithm>
#include <boost/random/lognormal_distribution.hpp>
#include <boost/random/mersenne_twister.hpp>
#include <boost/random/uniform_01.hpp>
#include <cmath>

namespace hestrel::spread {

namespace {

using Kind = Uncertain::Kind;

constexpr double billion = 1e9;
/// Factors end here, so that no rate is 0 and none is absurd.
constexpr double least_factor = 1e-3;
constexpr double most_factor = 1e3;

/// Every figure of a piece that can be a range: its own, those of devices, and measured ones.
template <class Content, class Do>
void for_ranges(Content& content, Do&& what) {
    const auto of = [&](auto& figures) {
        for (auto& [pool, size] : figures.memory) what(size);
        if (figures.packed) what(*figures.packed);
        if (figures.make) what(*figures.make);
    };
    of(content.figures);
    for (auto& [device, figures] : content.on) of(figures);
    for (auto& measured : content.measured) of(measured.figures);
}

bool is_open(const plan::Content& content) {
    bool open = false;
    for_ranges(content, [&](const auto& range) { open = open || range.low != range.high; });
    return open;
}

/// What two numbers make that tells trials apart (the finalizer of SplitMix64).
std::uint64_t mixed(std::uint64_t seed, std::uint64_t trial) {
    std::uint64_t mixed = seed * 0x9E3779B97F4A7C15 + trial;
    mixed = (mixed ^ mixed >> 30) * 0xBF58476D1CE4E5B9;
    mixed = (mixed ^ mixed >> 27) * 0x94D049BB133111EB;
    return mixed ^ mixed >> 31;
}

std::int64_t scaled(std::int64_t value, double factor) {
    return static_cast<std::int64_t>(std::llround(static_cast<double>(value) * factor));
}

/// Sets each range of `to` to what `share` of the same range of `from` comes to.
void set_ranges(const plan::Content& from, plan::Content& to, double share) {
    std::vector<std::int64_t> drawn;
    for_ranges(from, [&](const auto& range) {
        drawn.push_back(range.low.count + scaled(range.high.count - range.low.count, share));
    });
    std::size_t next = 0;
    for_ranges(to, [&](auto& range) {
        range.low = {drawn[next++]};
        range.high = range.low;
    });
}

} // namespace

std::string name_of(const plan::Plan& plan, plan::RouteId route, const Uncertain& uncertain) {
    const std::string whose =
        uncertain.machine ? ":" + plan.routes[route].machines[uncertain.machine].name : "";
    switch (uncertain.kind) {
    case Kind::read: return "read" + whose;
    case Kind::latency: return "latency" + whose;
    case Kind::unpack: return "unpack" + whose;
    case Kind::delay: return "delay" + whose;
    case Kind::speed: {
        const auto& players = plan.routes[route].players;
        const std::string& name = players[uncertain.index].name;
        return players.size() == 1 || name.empty() ? std::string("speed") : "speed:" + name;
    }
    case Kind::level: return "size:" + plan.levels[plan::LevelId{uncertain.index}].name;
    case Kind::kit: return "size:" + plan.kits[plan::KitId{uncertain.index}].name;
    }
    return {};
}

namespace {

/// A copy of a device, with the figures that pieces have on it.
plan::DeviceId add_copy(plan::Plan& plan, plan::DeviceId of) {
    const plan::DeviceId copy = plan.devices.push(plan::Device(plan.devices[of]));
    const auto also = [&](plan::Content& content) {
        for (std::size_t i = 0, end = content.on.size(); i < end; ++i) {
            if (content.on[i].first == of) content.on.emplace_back(copy, content.on[i].second);
        }
        for (std::size_t i = 0, end = content.measured.size(); i < end; ++i) {
            if (content.measured[i].device != of) continue;
            content.measured.push_back(content.measured[i]);
            content.measured.back().device = copy;
        }
    };
    for (plan::Level& level : plan.levels) also(level.content);
    for (plan::Kit& kit : plan.kits) also(kit.content);
    return copy;
}

} // namespace

Variation::Variation(const plan::Plan& plan, const walk::Cast& cast) : plan_(&plan), cast_(cast) {
    const plan::Route& route = plan.routes[cast.route];
    if (cast.devices.size() == 1) {
        std::vector<std::uint32_t> all;
        for (std::uint32_t player = 0; player < route.players.size(); ++player)
            all.push_back(player);
        add_machine({}, cast.devices.front(), all);
    } else {
        own_ = plan;
        for (plan::DeviceId& device : cast_.devices) device = add_copy(*own_, device);
        for (const plan::MachineId machine : route.machines.ids())
            add_machine(machine, cast_.devices[machine.value], route.machines[machine].players);
        for (const plan::MachineId machine : route.machines.ids()) {
            if (route.delay_spread > 0 && route.machines[machine].delay.count > 0)
                uncertain_.push_back({Kind::delay, machine.value, route.delay_spread, machine});
        }
    }
    for (const plan::KitId kit : plan.kits.ids()) {
        if (is_open(plan.kits[kit].content)) uncertain_.push_back({Kind::kit, kit.value, 0, {}});
    }
    for (const plan::LevelId level : plan.levels.ids()) {
        if (is_open(plan.levels[level].content))
            uncertain_.push_back({Kind::level, level.value, 0, {}});
    }
}

/// Its rates, and the speed of its players.
void Variation::add_machine(plan::MachineId machine, plan::DeviceId device,
                            const std::vector<std::uint32_t>& players) {
    const plan::Device& about = plan().devices[device];
    const auto add = [&](Kind kind, double variation, std::uint32_t index = 0) {
        if (variation > 0) uncertain_.push_back({kind, index, variation, machine});
    };
    const bool reads = !machine || !plan().routes[cast_.route].machines[machine].headless;
    if (reads) {
        add(Kind::read, about.spread.read);
        add(Kind::latency, about.read.latency.count > 0 ? about.spread.latency : 0);
        add(Kind::unpack, about.unpack ? about.spread.unpack : 0);
    }
    for (const std::uint32_t player : players) add(Kind::speed, about.spread.speed, player);
}

Draws Variation::draw(std::uint64_t seed, std::uint64_t trial) const {
    boost::random::mt19937_64 random(mixed(seed, trial));
    Draws draws;
    for (const Uncertain& each : uncertain_) {
        double drawn = 0;
        if (each.kind == Kind::level || each.kind == Kind::kit) {
            drawn = boost::random::uniform_01<double>()(random);
        } else {
            // 1 on average, with that standard deviation.
            const double squared = std::log1p(each.variation * each.variation);
            boost::random::lognormal_distribution<double> factors(-squared / 2, std::sqrt(squared));
            drawn = std::clamp(factors(random), least_factor, most_factor);
        }
        draws.push_back(std::llround(drawn * billion));
    }
    return draws;
}

void Variation::apply(const Draws& draws, plan::Plan& varied) const {
    const plan::Plan& given_plan = plan();
    const auto rate = [](plan::ByteRate given, double factor) {
        return plan::ByteRate{std::max<std::int64_t>(1, scaled(given.per_second, factor))};
    };
    for (std::size_t i = 0; i < uncertain_.size(); ++i) {
        const Uncertain& each = uncertain_[i];
        const double drawn = static_cast<double>(draws[i]) / billion;
        const plan::DeviceId device = cast_.devices[each.machine ? each.machine.value : 0];
        const plan::Device& from = given_plan.devices[device];
        plan::Device& to = varied.devices[device];
        switch (each.kind) {
        case Kind::read: to.read.rate = rate(from.read.rate, drawn); break;
        case Kind::latency: to.read.latency = {scaled(from.read.latency.count, drawn)}; break;
        case Kind::unpack: to.unpack->rate = rate(from.unpack->rate, drawn); break;
        case Kind::speed: {
            const auto& given = given_plan.routes[cast_.route].players[each.index].steps;
            auto& steps = varied.routes[cast_.route].players[each.index].steps;
            for (std::size_t step = 0; step < steps.size(); ++step) {
                if (auto* go = std::get_if<plan::GoStep>(&steps[step].what))
                    go->speed = std::get<plan::GoStep>(given[step].what).speed * drawn;
            }
            break;
        }
        case Kind::delay: {
            const plan::MachineId machine = each.machine;
            const plan::Micros given = given_plan.routes[cast_.route].machines[machine].delay;
            varied.routes[cast_.route].machines[machine].delay = {scaled(given.count, drawn)};
            break;
        }
        case Kind::level: {
            const plan::LevelId level{each.index};
            set_ranges(given_plan.levels[level].content, varied.levels[level].content, drawn);
            break;
        }
        case Kind::kit: {
            const plan::KitId kit{each.index};
            set_ranges(given_plan.kits[kit].content, varied.kits[kit].content, drawn);
            break;
        }
        }
    }
}

} // namespace hestrel::spread
