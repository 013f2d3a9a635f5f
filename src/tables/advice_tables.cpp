#include "tables/advice_tables.hpp"

#include "plan/names.hpp"
#include "source/json.hpp"
#include "tables/advice_words.hpp"
#include "tables/csv.hpp"
#include "tables/table.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <fmt/format.h>
#include <map>

namespace hestrel::tables {

using advise::Advice;
using advise::Advised;
using plan::Micros;
using plan::Plan;
using source::Json;

namespace {

std::string metres_of(const advise::Load& load) {
    return load.way ? fmt::format("{:.3f}", load.way->metres) : std::string();
}

/// What each piece of advice fixes, in words.
std::map<const Advice*, std::string> fixed_by(const Plan& plan, const Advised& advised) {
    std::map<const Advice*, std::string> all;
    for (const advise::Problem& problem : advised.problems) {
        const advise::Load& load = advised.loads[problem.load];
        for (const Advice& each : problem.fixes) all[&each] = cause_text(plan, load.cause);
    }
    for (const advise::WaitTime& wait : advised.waits) {
        if (wait.fix) all[&*wait.fix] = plan::list_name(plan, wait.list);
    }
    for (const Advice& each : advised.whole) all[&each] = "the plan";
    return all;
}

std::optional<Micros> slack_of(const std::optional<advise::Judgement>& judged) {
    return judged ? judged->slack : std::nullopt;
}

Columns<advise::DeviceTime> time_columns(const Plan& plan) {
    using Time = advise::DeviceTime;
    return {{"device", [&](const Time& time) { return plan.devices[time.device].name; }},
            {"read_mib", [](const Time& time) { return time.isolated.to_read; }},
            {"read_s", [](const Time& time) { return time.isolated.read; }},
            {"ready_s", [](const Time& time) { return time.isolated.ready; }},
            {"shown_s", [](const Time& time) { return time.isolated.shown; }},
            {"longest_s", [](const Time& time) { return time.longest(); }},
            {"slack_s", [](const Time& time) { return time.slack; }},
            {"seen_slack_s", [](const Time& time) { return time.seen_slack; }}};
}

Columns<advise::VeilTime> veil_columns(const Plan& plan) {
    using Time = advise::VeilTime;
    return {{"veil", [&](const Time& time) { return plan.veils[time.veil].name; }},
            {"device", [&](const Time& time) { return plan.devices[time.device].name; }},
            {"cause", [&](const Time& time) { return cause_text(plan, time.cause); }},
            {"level", [&](const Time& time) { return plan.levels[time.level].name; }},
            {"takes_s", [](const Time& time) { return time.takes; }},
            {"min_s", [&](const Time& time) { return plan.veils[time.veil].min; }},
            {"least_s", [](const Time& time) { return time.least; }}};
}

Columns<advise::WaitTime> wait_columns(const Plan& plan) {
    using Time = advise::WaitTime;
    return {{"list", [&](const Time& wait) { return plan::list_name(plan, wait.list); }},
            {"step", [](const Time& wait) { return wait.step; }},
            {"levels", [&](const Time& wait) { return plan::names_in(plan.levels, wait.levels); }},
            {"wait_s", [](const Time& wait) { return wait.time; }},
            {"takes_s", [](const Time& wait) { return wait.takes; }},
            {"on", [&](const Time& wait) { return plan.devices[wait.slowest].name; }},
            {"least_s", [](const Time& wait) { return wait.least; }}};
}

Columns<advise::KeeperTrial> keeper_columns(const Plan& plan) {
    using Trial = advise::KeeperTrial;
    return {
        {"route", [&](const Trial& trial) { return plan.routes[trial.cast.route].name; }},
        {"devices",
         [&](const Trial& trial) { return walk::devices_text(plan, trial.cast.devices); }},
        {"keeper",
         [&](const Trial& trial) {
             return plan.routes[trial.cast.route].machines[trial.keeper].name;
         }},
        {"verdict", [](const Trial& trial) { return std::string(plan::name_of(trial.verdict)); }},
        {"waiting_s", [](const Trial& trial) { return trial.waiting; }},
        {"others_s", [](const Trial& trial) { return trial.others; }}};
}

Json load_json(const Plan& plan, const advise::Load& load) {
    Json times = Json::array();
    for (const advise::DeviceTime& time : load.times) {
        Json on = json_of_row(time_columns(plan), time);
        if (time.contended) on["longest_on"] = plan.routes[time.contended->route].name;
        times.push_back(std::move(on));
    }
    Json json{{"cause", cause_text(plan, load.cause)},
              {"level", plan.levels[load.level].name},
              {"shows", load.shows},
              {"held", load.held}};
    if (load.way) json["way_m"] = load.way->metres;
    json["lead_s"] = Cell(load.lead()).json();
    json["devices"] = std::move(times);
    return json;
}

} // namespace

AdviceSettings settings_of(source::Disk& disk, const Plan& plan, const std::string& path,
                           const std::vector<source::Override>& tried, const Advised& advised) {
    const edit::Settings settings(disk, plan, path, tried);
    AdviceSettings all;
    for (const Advice* advice : advised.all()) all.push_back(settings.of(advice->edits));
    return all;
}

std::string load_times_csv(const Plan& plan, const Advised& advised) {
    Csv csv{"cause",     "level",      "device", "read_mib", "read_s",  "ready_s",     "shown_s",
            "longest_s", "longest_on", "way_m",  "lead_s",   "slack_s", "seen_slack_s"};
    for (const advise::Load& load : advised.loads) {
        for (const advise::DeviceTime& time : load.times) {
            const bool on_route = time.contended && time.longest() == time.contended->took;
            csv.row({cause_text(plan, load.cause), plan.levels[load.level].name,
                     plan.devices[time.device].name, mebibytes_text(time.isolated.to_read),
                     seconds_text(time.isolated.read), seconds_text(time.isolated.ready),
                     seconds_text(time.isolated.shown), seconds_text(time.longest()),
                     on_route ? plan.routes[time.contended->route].name : "", metres_of(load),
                     seconds_text(load.lead()), seconds_text(time.slack),
                     seconds_text(time.seen_slack)});
        }
    }
    return csv.take();
}

std::string advice_csv(const Plan& plan, const Advised& advised, const AdviceSettings& settings) {
    Csv csv{"number",           "kind",  "mends", "level", "amount", "unit", "advice", "slack_s",
            "slack_one_less_s", "harms", "set"};
    const auto fixed = fixed_by(plan, advised);
    const auto all = advised.all();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Advice& advice = *all[i];
        csv.row({std::to_string(i + 1), kind_name(advice.kind), fixed.at(&advice),
                 advice.level ? plan.levels[advice.level].name : "",
                 amount_text(advice.kind, advice.amount), unit_of(advice.kind),
                 advice_text(plan, advice), seconds_text(slack_of(advice.then)),
                 seconds_text(slack_of(advice.one_less)), harms_text(plan, advice.harms),
                 settings[i] ? edit::set_line(*settings[i]) : ""});
    }
    return csv.take();
}

std::string veil_times_csv(const Plan& plan, const Advised& advised) {
    return csv_of(veil_columns(plan), advised.veils);
}

std::string wait_times_csv(const Plan& plan, const Advised& advised) {
    return csv_of(wait_columns(plan), advised.waits);
}

std::string keepers_csv(const Plan& plan, const Advised& advised) {
    return csv_of(keeper_columns(plan), advised.keepers);
}

std::string advice_json(const Plan& plan, const Advised& advised, const AdviceSettings& settings) {
    Json loads = Json::array();
    for (const advise::Load& load : advised.loads) loads.push_back(load_json(plan, load));
    Json advice_list = Json::array();
    const auto fixed = fixed_by(plan, advised);
    const auto all = advised.all();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Advice& advice = *all[i];
        Json json{{"number", i + 1},
                  {"kind", kind_name(advice.kind)},
                  {"mends", fixed.at(&advice)},
                  {"level", advice.level ? Json(plan.levels[advice.level].name) : Json(nullptr)},
                  {"advice", advice_text(plan, advice)}};
        if (!unit_of(advice.kind).empty()) {
            json["amount"] = unit_of(advice.kind) == "s"
                                 ? Json(plan::in_seconds({advice.amount * advise::tenth}))
                                 : Json(advice.amount);
            json["unit"] = unit_of(advice.kind);
        }
        if (advice.then) json["slack_s"] = Cell(advice.then->slack).json();
        if (advice.one_less) json["slack_one_less_s"] = Cell(advice.one_less->slack).json();
        if (!advice.harms.empty()) json["harms"] = harms_text(plan, advice.harms);
        for (const advise::Effect& effect : advice.effects) {
            json["effects"].push_back(
                {{"device", plan.devices[effect.device].name},
                 {"waiting_before_s", plan::in_seconds(effect.waiting_before)},
                 {"waiting_after_s", plan::in_seconds(effect.waiting_after)},
                 {"peak_before_mib", plan::in_mebibytes(effect.peak_before)},
                 {"peak_after_mib", plan::in_mebibytes(effect.peak_after)},
                 {"slow_before_s", plan::in_seconds(effect.slow_before)},
                 {"slow_after_s", plan::in_seconds(effect.slow_after)}});
        }
        Json set = Json::array();
        if (settings[i]) {
            for (const source::Override& each : *settings[i]) set.push_back(edit::assignment(each));
        }
        json["set"] = std::move(set);
        advice_list.push_back(std::move(json));
    }
    return source::file_text(Json{{"plan", plan.name},
                                  {"wanted_slack_s", plan::in_seconds(advised.wanted)},
                                  {"loads", std::move(loads)},
                                  {"advice", std::move(advice_list)},
                                  {"more_problems", advised.more_problems},
                                  {"veils", json_of(veil_columns(plan), advised.veils)},
                                  {"waits", json_of(wait_columns(plan), advised.waits)},
                                  {"keepers", json_of(keeper_columns(plan), advised.keepers)}});
}

} // namespace hestrel::tables
