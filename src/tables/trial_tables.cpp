#include "tables/trial_tables.hpp"

#include "plan/names.hpp"
#include "source/csv_reader.hpp"
#include "source/json.hpp"
#include "tables/csv.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>

namespace hestrel::tables {

using source::Json;

namespace {

using spread::Trial;

std::string header_of(const TrialSet& set) {
    Csv csv;
    csv.add("trial").add("of").add("seed");
    for (const std::string& name : set.uncertain) csv.add(name);
    csv.add("boot_us").add("slack_us").add("stalls_us").add("peak_bytes").add("wrong");
    csv.end_row();
    return csv.take();
}

template <class Number>
Number whole_number(const source::CsvCell& cell, const std::string& path) {
    Number number{};
    const char* end = cell.text.data() + cell.text.size();
    const auto [at, error] = std::from_chars(cell.text.data(), end, number);
    if (error != std::errc() || at != end)
        throw TrialsError(fmt::format("{}:{}:{}: \"{}\" is no whole number", path, cell.place.line,
                                      cell.place.column, cell.text));
    return number;
}

double in_base_unit(spread::Measure measure, std::int64_t value) {
    return measure == spread::Measure::peak ? plan::in_mebibytes({value})
                                            : plan::in_seconds({value});
}

std::optional<std::int64_t> value_of(const Trial& trial, spread::Measure measure) {
    const auto values = spread::values_of(std::span(&trial, 1), measure);
    return values.empty() ? std::nullopt : std::optional(values.front());
}

std::string number_text(spread::Measure measure, std::optional<std::int64_t> value) {
    if (!value) return {};
    return measure == spread::Measure::peak ? mebibytes_text({*value}) : seconds_text({*value});
}

} // namespace

std::string trials_csv(const TrialSet& set) {
    Csv csv; // of rows alone
    for (const Trial& trial : set.trials) {
        csv.add(std::to_string(trial.number));
        csv.add(std::to_string(set.of));
        csv.add(std::to_string(set.seed));
        for (const std::int64_t drawn : trial.draws) csv.add(std::to_string(drawn));
        csv.add(trial.boot ? std::to_string(trial.boot->count) : "");
        csv.add(trial.slack ? std::to_string(trial.slack->count) : "");
        csv.add(std::to_string(trial.stalls.count));
        csv.add(std::to_string(trial.peak.count));
        csv.add(plan::joined(trial.wrong, " "));
        csv.end_row();
    }
    return header_of(set) + csv.take();
}

void add_trials(TrialSet& set, std::string_view csv, const std::string& path) {
    const std::string header = header_of(set);
    if (!csv.starts_with(header))
        throw TrialsError(fmt::format("{}:1:1: not the trials of this plan, route and device: "
                                      "expected the columns {}",
                                      path, header.substr(0, header.find('\r'))));
    std::size_t at = 0;
    plan::Place place{0, 1, 1};
    const std::size_t columns = source::next_record(csv, at, place).size();
    while (at < csv.size()) {
        const plan::Place line = place;
        const std::vector<source::CsvCell> cells = source::next_record(csv, at, place);
        if (cells.size() == 1 && cells.front().text.empty()) continue;
        if (cells.size() != columns)
            throw TrialsError(fmt::format("{}:{}:1: {} fields under {} columns", path, line.line,
                                          cells.size(), columns));
        const auto number = [&](std::size_t i) {
            return whole_number<std::int64_t>(cells[i], path);
        };
        const auto of = whole_number<std::uint64_t>(cells[1], path);
        const auto seed = whole_number<std::uint64_t>(cells[2], path);
        if (set.of == 0) {
            set.of = of;
            set.seed = seed;
        }
        if (of != set.of || seed != set.seed)
            throw TrialsError(fmt::format("{}:{}:1: a trial of {} with seed {}, among those of {} "
                                          "with seed {}",
                                          path, line.line, of, seed, set.of, set.seed));
        Trial trial;
        trial.number = whole_number<std::uint64_t>(cells[0], path);
        std::size_t next = 3;
        for (std::size_t i = 0; i < set.uncertain.size(); ++i)
            trial.draws.push_back(number(next++));
        if (!cells[next].text.empty()) trial.boot = plan::Micros{number(next)};
        if (!cells[++next].text.empty()) trial.slack = plan::Micros{number(next)};
        trial.stalls = {number(++next)};
        trial.peak = {number(++next)};
        const std::string& wrong = cells[++next].text;
        for (std::size_t from = 0; from < wrong.size();) {
            const std::size_t to = std::min(wrong.find(' ', from), wrong.size());
            trial.wrong.push_back(wrong.substr(from, to - from));
            from = to + 1;
        }
        set.trials.push_back(std::move(trial));
    }
}

void put_in_order(TrialSet& set) {
    if (set.trials.empty()) throw TrialsError("there are no trials");
    std::stable_sort(
        set.trials.begin(), set.trials.end(),
        [](const Trial& one, const Trial& other) { return one.number < other.number; });
    for (std::uint64_t number = 0; number < set.of; ++number) {
        if (number < set.trials.size() && set.trials[number].number == number) continue;
        const bool twice =
            number > 0 && number < set.trials.size() && set.trials[number].number == number - 1;
        throw TrialsError(twice ? fmt::format("trial {} is there twice", number - 1)
                                : fmt::format("trial {} of {} is missing", number, set.of));
    }
    if (set.trials.size() > set.of)
        throw TrialsError(
            fmt::format("trial {} is not one of {}", set.trials.back().number, set.of));
}

std::string measure_text(spread::Measure measure, std::int64_t value) {
    return measure == spread::Measure::peak ? short_memory({value}) : short_time({value});
}

std::string quantiles_csv(const plan::Plan& plan, std::span<const TrialSet> sets,
                          std::span<const Trial> walks) {
    Csv csv{"route", "device", "measure", "walk", "p50", "p90", "p99"};
    for (std::size_t i = 0; i < sets.size(); ++i) {
        for (const spread::Measure measure : spread::measures) {
            csv.add(plan.routes[sets[i].cast.route].name)
                .add(walk::devices_text(plan, sets[i].cast.devices));
            csv.add(std::string(name_of(measure)) +
                    (measure == spread::Measure::peak ? "_mib" : "_s"));
            csv.add(number_text(measure, value_of(walks[i], measure)));
            for (const double share : quantiles)
                csv.add(number_text(measure, spread::within(sets[i].trials, measure, share)));
            csv.end_row();
        }
    }
    return csv.take();
}

std::string spread_json(const plan::Plan& plan, std::span<const TrialSet> sets,
                        std::span<const Trial> walks) {
    Json json = Json::array();
    for (std::size_t i = 0; i < sets.size(); ++i) {
        const TrialSet& set = sets[i];
        Json of_set{{"route", plan.routes[set.cast.route].name},
                    {"device", walk::devices_text(plan, set.cast.devices)},
                    {"trials", set.trials.size()},
                    {"seed", set.seed}};
        for (const spread::Measure measure : spread::measures) {
            const auto number = [&](std::optional<std::int64_t> value) {
                return value ? Json(in_base_unit(measure, *value)) : Json();
            };
            Json influences = Json::array();
            for (const spread::Influence& each : spread::influences(set.trials, measure))
                influences.push_back(
                    {{"of", set.uncertain[each.uncertain]}, {"correlation", each.correlation}});
            of_set["measures"].push_back(
                {{"name", name_of(measure)},
                 {"unit", measure == spread::Measure::peak ? "MiB" : "s"},
                 {"walk", number(value_of(walks[i], measure))},
                 {"p50", number(within(set.trials, measure, quantiles[0]))},
                 {"p90", number(within(set.trials, measure, quantiles[1]))},
                 {"p99", number(within(set.trials, measure, quantiles[2]))},
                 {"influences", influences}});
        }
        of_set["wrong"] = Json::array();
        for (const spread::Chance& each : spread::chances(set.trials))
            of_set["wrong"].push_back({{"name", each.name},
                                       {"times", each.times},
                                       {"chance", each.share},
                                       {"low", each.low},
                                       {"high", each.high}});
        json.push_back(of_set);
    }
    return source::file_text(json);
}

} // namespace hestrel::tables
