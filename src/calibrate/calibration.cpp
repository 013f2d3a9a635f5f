#include "calibrate/calibration.hpp"

namespace hestrel::calibrate {

namespace {

std::optional<Sample> sample_of(const Measurement& measured, Part part) {
    const std::optional<double>* size = nullptr;
    const std::optional<double>* seconds = nullptr;
    switch (part) {
    case Part::read:
        size = measured.packed ? &measured.packed : &measured.unpacked;
        seconds = &measured.read;
        break;
    case Part::unpack:
        size = &measured.unpacked;
        seconds = &measured.unpack;
        break;
    case Part::attach:
        size = &measured.objects;
        seconds = &measured.attach;
        break;
    }
    if (!*size || !*seconds) return std::nullopt;
    return Sample{**size, **seconds};
}

} // namespace

std::string_view name_of(Part part) {
    constexpr std::array<std::string_view, parts.size()> names{"read", "unpack", "attach"};
    return names[static_cast<std::size_t>(part)];
}

std::string_view unit_of(Part part) {
    return part == Part::attach ? "objects" : "MiB";
}

std::array<Fitted, parts.size()> calibrate(const std::vector<Measurement>& measurements) {
    std::array<Fitted, parts.size()> all;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        Fitted& fitted = all[i];
        fitted.part = parts[i];
        for (std::size_t number = 0; number < measurements.size(); ++number) {
            const auto sample = sample_of(measurements[number], fitted.part);
            if (!sample) continue;
            fitted.measurements.push_back(number);
            fitted.samples.push_back(*sample);
        }
        if (fitted.samples.empty()) continue;
        const bool from_zero = fitted.part == Part::unpack;
        auto found = fit_line(fitted.samples, from_zero ? Through::zero : Through::anywhere);
        if (const auto* line = std::get_if<Line>(&found); line != nullptr && line->at_zero < 0) {
            fitted.below_zero = true; // no piece takes less than no time
            found = fit_line(fitted.samples, Through::zero);
        }
        if (auto* line = std::get_if<Line>(&found)) {
            fitted.line = std::move(*line);
        } else {
            fitted.refusal = std::get<Refusal>(found);
        }
    }
    return all;
}

} // namespace hestrel::calibrate
