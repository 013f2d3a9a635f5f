#include "tables/calibration_tables.hpp"

#include "source/json.hpp"
#include "source/yaml_writer.hpp"
#include "tables/csv.hpp"

#include <fmt/format.h>

namespace hestrel::tables {

using source::Json;

namespace {

using calibrate::Fitted;
using calibrate::Line;
using calibrate::Measurement;
using calibrate::Part;

/// A figure in its base unit, and its standard error.
struct Figure {
    Part part;
    std::string_view group;
    std::string_view key;
    std::string_view base_unit;
    double value;
    double error;
};

std::vector<Figure> base_figures(std::span<const Fitted> fitted) {
    std::vector<Figure> figures;
    for (const Fitted& each : fitted) {
        if (!each.line) continue;
        const Line& line = *each.line;
        // The error of 1/x is that of x over x squared.
        const double rate = 1 / line.per_unit;
        const double rate_error = line.per_unit_error * rate * rate;
        switch (each.part) {
        case Part::read:
            figures.push_back({each.part, "read", "rate", "MiB/s", rate, rate_error});
            figures.push_back(
                {each.part, "read", "latency", "s", line.at_zero, line.at_zero_error});
            break;
        case Part::unpack:
            figures.push_back({each.part, "unpack", "rate", "MiB/s", rate, rate_error});
            break;
        case Part::make:
            figures.push_back({each.part, "makers", "speed", "1", rate, rate_error});
            break;
        case Part::attach:
            figures.push_back(
                {each.part, "attach", "fixed", "s", line.at_zero, line.at_zero_error});
            figures.push_back(
                {each.part, "attach", "per-object", "s", line.per_unit, line.per_unit_error});
            break;
        }
    }
    return figures;
}

/// As a plan writes it: rates in MiB/s, times in ms, times of one object in us.
std::string written(const Figure& figure, double value) {
    if (figure.key == "rate" || figure.key == "speed") return fmt::format("{:.5g}", value);
    if (figure.key == "per-object") return fmt::format("{:.4g} us", value * 1e6);
    return fmt::format("{:.4g} ms", value * 1e3);
}

} // namespace

std::vector<DeviceFigure> device_figures(std::span<const Fitted> fitted) {
    std::vector<DeviceFigure> all;
    for (const Figure& figure : base_figures(fitted)) {
        const bool taken = figure.error == 0 && figure.value == 0;
        all.push_back({figure.part, fmt::format("{}.{}", figure.group, figure.key),
                       written(figure, figure.value),
                       taken ? std::string() : written(figure, figure.error)});
    }
    return all;
}

std::string device_block(std::span<const Fitted> fitted, const std::string& name) {
    const std::vector<Figure> figures = base_figures(fitted);
    source::BlockYaml yaml;
    yaml.begin("devices");
    yaml.begin(name);
    for (const std::string_view group : {"read", "unpack", "makers", "attach"}) {
        source::FlowMap keys;
        for (const Figure& figure : figures) {
            if (figure.group == group) keys.add(figure.key, written(figure, figure.value));
        }
        if (!keys.empty()) yaml.entry(group, keys.text());
    }
    return yaml.text();
}

std::string figures_csv(std::span<const Fitted> fitted) {
    Csv csv{"figure", "value", "standard_error", "unit", "measurements", "outliers", "scatter_s"};
    for (const Figure& figure : base_figures(fitted)) {
        const Fitted& of = fitted[static_cast<std::size_t>(figure.part)];
        csv.row({fmt::format("{}.{}", figure.group, figure.key),
                 fmt::format("{:.9g}", figure.value), fmt::format("{:.3g}", figure.error),
                 figure.base_unit, std::to_string(of.samples.size()),
                 std::to_string(of.samples.size() - of.line->used),
                 fmt::format("{:.3g}", of.line->scatter)});
    }
    return csv.take();
}

std::string residuals_csv(std::span<const Fitted> fitted,
                          const std::vector<Measurement>& measurements) {
    Csv csv{"line", "piece", "part", "size", "measured_s", "fitted_s", "residual_s", "outlier"};
    for (const Fitted& each : fitted) {
        if (!each.line) continue;
        for (std::size_t i = 0; i < each.samples.size(); ++i) {
            const Measurement& measured = measurements[each.measurements[i]];
            const calibrate::Sample& sample = each.samples[i];
            csv.row({std::to_string(measured.line), measured.piece, name_of(each.part),
                     fmt::format("{:.6g}", sample.size), fmt::format("{:.6f}", sample.seconds),
                     fmt::format("{:.6f}", each.line->at(sample.size)),
                     fmt::format("{:.6f}", each.line->residuals[i]),
                     each.line->outliers[i] ? "yes" : "no"});
        }
    }
    return csv.take();
}

std::string made_csv(const std::vector<calibrate::Made>& made) {
    Csv csv{"piece", "least_s", "most_s", "measurements"};
    for (const calibrate::Made& each : made)
        csv.row({each.piece, fmt::format("{:.6f}", each.least), fmt::format("{:.6f}", each.most),
                 std::to_string(each.measurements)});
    return csv.take();
}

std::string calibration_json(std::span<const Fitted> fitted,
                             const std::vector<Measurement>& measurements) {
    Json json;
    const std::vector<Figure> figures = base_figures(fitted);
    for (const Fitted& each : fitted) {
        Json part{{"measurements", each.samples.size()}};
        if (!each.refusal.empty()) part["refused"] = each.refusal;
        if (each.line) {
            for (const Figure& figure : figures) {
                if (figure.part != each.part) continue;
                part[std::string(figure.key)] = {{"value", figure.value},
                                                 {"standard_error", figure.error},
                                                 {"unit", figure.base_unit}};
            }
            part["scatter_s"] = each.line->scatter;
            Json outliers = Json::array();
            for (std::size_t i = 0; i < each.samples.size(); ++i) {
                if (!each.line->outliers[i]) continue;
                const Measurement& measured = measurements[each.measurements[i]];
                outliers.push_back({{"line", measured.line},
                                    {"piece", measured.piece},
                                    {"residual_s", each.line->residuals[i]}});
            }
            part["outliers"] = outliers;
        }
        json[std::string(name_of(each.part))] = part;
    }
    for (const calibrate::Made& made : calibrate::made_pieces(measurements))
        json["made"].push_back({{"piece", made.piece},
                                {"least_s", made.least},
                                {"most_s", made.most},
                                {"measurements", made.measurements}});
    return source::file_text(json);
}

} // namespace hestrel::tables
