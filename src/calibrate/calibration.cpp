#include "calibrate/calibration.hpp"

#include <algorithm>

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
    case Part::make:
        size = &measured.planned_make;
        seconds = &measured.make;
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
    constexpr std::array<std::string_view, parts.size()> names{"read", "unpack", "make", "attach"};
    return names[static_cast<std::size_t>(part)];
}

std::string_view unit_of(Part part) {
    switch (part) {
    case Part::read:
    case Part::unpack: return "MiB";
    case Part::make: return "s";
    case Part::attach: return "objects";
    }
    return {};
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
        const bool from_zero = fitted.part == Part::unpack || fitted.part == Part::make;
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

std::vector<Made> made_pieces(const std::vector<Measurement>& measurements) {
    std::vector<Made> all;
    for (const Measurement& measured : measurements) {
        if (!measured.make || measured.planned_make) continue;
        auto known = std::find_if(all.begin(), all.end(),
                                  [&](const Made& made) { return made.piece == measured.piece; });
        if (known == all.end())
            known = all.insert(all.end(), {measured.piece, *measured.make, *measured.make, 0});
        known->least = std::min(known->least, *measured.make);
        known->most = std::max(known->most, *measured.make);
        ++known->measurements;
    }
    return all;
}

} // namespace hestrel::calibrate
