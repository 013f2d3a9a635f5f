#include "tables/advice_words.hpp"

#include "plan/names.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>
#include <map>

namespace hestrel::tables {

using advise::Advice;
using advise::Kind;
using plan::Micros;
using plan::Plan;

namespace {

/// What a change of that kind writes.
template <class E>
const E* edit_of(const Advice& advice) {
    for (const advise::Edit& edit : advice.edits) {
        if (const auto* found = std::get_if<E>(&edit)) return found;
    }
    return nullptr;
}

std::string metres_text(double metres) {
    return fmt::format("{:.1f} m", metres);
}

std::string devices_of(const Plan& plan, const Advice& advice) {
    std::vector<plan::DeviceId> devices;
    for (const advise::Edit& edit : advice.edits) {
        if (const auto* figures = std::get_if<advise::SetFigures>(&edit))
            devices.push_back(figures->device);
        if (const auto* makers = std::get_if<advise::SetMakers>(&edit))
            devices.push_back(makers->device);
    }
    return plan::joined(plan::names_in(plan.devices, devices));
}

/// The sum behind the amount of what mends a load; empty where there is nothing to add up.
std::string sum_text(const Plan& plan, const advise::Load& load, const advise::Problem& problem,
                     const Advice& advice, Micros wanted) {
    const advise::DeviceTime& time = load.on(problem.worst);
    const std::string missing = short_time(problem.short_by);
    switch (advice.kind) {
    case Kind::deepen:
    case Kind::near:
        return fmt::format("{} × {:g} m/s = {}", missing, load.top,
                           metres_text(plan::in_seconds(problem.short_by) * load.top));
    case Kind::wait:
    case Kind::veil_min:
    case Kind::veil:
        return fmt::format("{} to load{}", short_time(time.longest()),
                           wanted > Micros{} ? " + " + short_time(wanted) + " to spare" : "");
    case Kind::lighter: {
        const plan::Device& device = plan.devices[problem.worst];
        std::string rates = fmt::format(
            "{:.4g} MiB/s", static_cast<double>(device.read.rate.per_second) / 1048576.0);
        if (device.unpack)
            rates += fmt::format(" and unpacked at {:.4g} MiB/s",
                                 static_cast<double>(device.unpack->rate.per_second) / 1048576.0);
        return fmt::format("{} less to be read at {}", missing, rates);
    }
    default: return "";
    }
}

/// What walking showed: "0.12 s to spare; 5 m: 0.04 s late".
std::string walked_text(const Advice& advice, Micros wanted) {
    const auto said = [&](const advise::Judgement& judged) -> std::string {
        if (judged.slack) {
            return *judged.slack < Micros{} ? short_time({-judged.slack->count}) + " late"
                                            : (judged.in_time(wanted) ? "" : "only ") +
                                                  short_time(*judged.slack) + " to spare";
        }
        return judged.gap ? "still late" : "it is there before anybody needs it";
    };
    if (!advice.then) return "";
    std::string text = "walked: " + said(*advice.then);
    if (advice.one_less && !advice.one_less->in_time(wanted))
        text += fmt::format("; {}: {}",
                            advice.amount > 1 ? amount_with_unit(advice.kind, advice.amount - 1)
                                              : "as it is",
                            said(*advice.one_less));
    return text;
}

} // namespace

std::string_view kind_name(Kind kind) {
    switch (kind) {
    case Kind::names_order: return "names-order";
    case Kind::priority: return "priority";
    case Kind::deepen: return "deepen";
    case Kind::near: return "near";
    case Kind::wait: return "wait";
    case Kind::veil_min: return "veil-min";
    case Kind::veil: return "veil";
    case Kind::gate: return "gate";
    case Kind::free_first: return "free-first";
    case Kind::unload: return "unload";
    case Kind::hide: return "hide";
    case Kind::let_go: return "let-go";
    case Kind::persist: return "persist";
    case Kind::lighter: return "lighter";
    case Kind::quicker: return "quicker";
    case Kind::makers: return "makers";
    }
    return "";
}

std::string_view unit_of(Kind kind) {
    switch (kind) {
    case Kind::deepen:
    case Kind::near: return "m";
    case Kind::wait:
    case Kind::veil_min:
    case Kind::veil:
    case Kind::quicker: return "s";
    case Kind::let_go:
    case Kind::persist:
    case Kind::lighter: return "MiB";
    case Kind::makers: return "more";
    default: return "";
    }
}

std::string amount_text(Kind kind, std::int64_t amount) {
    if (unit_of(kind).empty()) return "";
    if (unit_of(kind) == "s")
        return fmt::format("{:.1f}", plan::in_seconds({amount * advise::tenth}));
    return std::to_string(amount);
}

std::string amount_with_unit(Kind kind, std::int64_t amount) {
    return fmt::format("{} {}", amount_text(kind, amount), unit_of(kind));
}

std::string cause_text(const Plan& plan, const advise::Cause& cause) {
    return plan::cause_name(plan, cause.list, cause.near);
}

std::string advice_text(const Plan& plan, const Advice& advice) {
    const std::string level = advice.level ? plan.levels[advice.level].name : "";
    const std::string list = advice.list ? plan::list_name(plan, advice.list) : "";
    const std::string amount = amount_with_unit(advice.kind, advice.amount);
    switch (advice.kind) {
    case Kind::names_order: return fmt::format("name {} first in {}", level, list);
    case Kind::priority: return fmt::format("ask for {} with priority now in {}", level, list);
    case Kind::deepen: return fmt::format("let {} reach {} farther", list, amount);
    case Kind::near: {
        const auto* near = edit_of<advise::SetNear>(advice);
        return fmt::format("load {} within {:g} m, not {:g}", level, near->near.load,
                           plan.levels[near->level].near->load);
    }
    case Kind::wait: {
        const auto* wait = edit_of<advise::SetWait>(advice);
        const auto& today = std::get<plan::WaitStep>(plan.lists[wait->list].steps[wait->step].what);
        return fmt::format("wait {} in {}, not {}", amount, list, short_time(*today.time));
    }
    case Kind::veil_min: {
        const plan::Veil& veil = plan.veils[edit_of<advise::SetVeilMin>(advice)->veil];
        return fmt::format("keep the veil {} up for {}, not {}", veil.name, amount,
                           short_time(veil.min));
    }
    case Kind::veil: return fmt::format("raise a veil of {} in {}", amount, list);
    case Kind::gate:
        return fmt::format("put a gate before {}: players stand at it for up to {}", level,
                           short_time(advice.then ? advice.then->held : Micros{}));
    case Kind::free_first: return fmt::format("let {} free the old levels first", list);
    case Kind::unload: return fmt::format("unload {} in {}", level, list);
    case Kind::hide: return fmt::format("hide {} in {}", level, list);
    case Kind::let_go: return fmt::format("{} persists for nothing: let it go ({})", level, amount);
    case Kind::persist: return fmt::format("let {} persist ({} more)", level, amount);
    case Kind::lighter:
        return fmt::format("make {} {} lighter on {}", level, amount, devices_of(plan, advice));
    case Kind::quicker:
        return fmt::format("take {} less to make {} on {}", amount, level,
                           devices_of(plan, advice));
    case Kind::makers:
        return fmt::format("give {} {} more", devices_of(plan, advice),
                           counted(static_cast<std::size_t>(advice.amount), "maker"));
    }
    return "";
}

std::string alone_text(const Plan& plan, const advise::Load& load, const advise::DeviceTime& time) {
    const advise::IsolatedTimes& alone = time.isolated;
    std::string text =
        fmt::format("{} read by {}", short_memory(alone.to_read), short_time(alone.read));
    if (plan.devices[time.device].unpack || alone.made)
        text += (alone.made ? ", made by " : ", unpacked by ") + short_time(alone.ready);
    if (load.shows) text += ", shown by " + short_time(alone.shown);
    return text;
}

std::string late_text(const Plan& plan, const advise::Load& load, const advise::Problem& problem) {
    return fmt::format("{} brings {} {} too late on {}", cause_text(plan, load.cause),
                       plan.levels[load.level].name, short_time(problem.short_by),
                       plan.devices[problem.worst].name);
}

std::string tried_text(const Plan& plan, const advise::Load& load, const advise::Problem& problem,
                       const Advice& advice, Micros wanted) {
    const std::string sum = sum_text(plan, load, problem, advice, wanted);
    return sum + (sum.empty() ? "" : "; ") + walked_text(advice, wanted);
}

std::string effects_text(const Plan& plan, const Advice& advice) {
    std::string text;
    for (const advise::Effect& effect : advice.effects) {
        const Micros waited = effect.waiting_after - effect.waiting_before;
        const plan::Bytes held = effect.peak_after - effect.peak_before;
        std::string here;
        constexpr Micros worth_telling{100'000};
        if (waited >= worth_telling || waited <= Micros{-worth_telling.count})
            here += fmt::format("waiting {} → {}", short_time(effect.waiting_before),
                                short_time(effect.waiting_after));
        if (held >= plan::mebibytes(1) || held <= plan::mebibytes(-1))
            here +=
                fmt::format("{}peak {} → {} of {}", here.empty() ? "" : ", ",
                            short_mebibytes(effect.peak_before), short_mebibytes(effect.peak_after),
                            short_memory(plan.devices[effect.device].memory.total));
        const Micros slow = effect.slow_before - effect.slow_after;
        if (slow >= worth_telling || slow <= Micros{-worth_telling.count})
            here += fmt::format("{}slow frames {} → {}", here.empty() ? "" : ", ",
                                short_time(effect.slow_before), short_time(effect.slow_after));
        if (here.empty()) continue;
        text += fmt::format("{}{}: {}", text.empty() ? "" : "; ", plan.devices[effect.device].name,
                            here);
    }
    return text;
}

std::string harms_text(const Plan& plan, const std::vector<advise::Harm>& harms) {
    std::map<std::pair<std::string, plan::DeviceId>, std::vector<plan::RouteId>> routes;
    for (const advise::Harm& harm : harms)
        routes[{harm.finding, harm.device}].push_back(harm.route);
    std::string text;
    for (const auto& [what, on] : routes) {
        text += (text.empty() ? "" : "; ") + what.first;
        if (!on.front()) {
            text += " (check)";
            continue;
        }
        text += fmt::format(" on {} ({}{})", plan.devices[what.second].name,
                            plan.routes[on.front()].name,
                            on.size() > 1 ? fmt::format(" and {} more", on.size() - 1) : "");
    }
    return text;
}

} // namespace hestrel::tables
