#include "verify/device_fit.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace hestrel::verify {

using plan::Bytes;
using plan::Micros;
using walk::EventKind;

namespace {

/// A stretch of work on one piece.
struct Work {
    std::uint32_t piece = 0;
    Micros from;
    Micros to;
    std::size_t line = 0; ///< of the log, with which it ended
};

struct SessionWork {
    std::vector<Work> reads;
    std::vector<Work> unpackings;
};

/// Reads end where unpacking begins, or where the piece is loaded; unpacking where it is loaded.
SessionWork work_in(const Session& session) {
    SessionWork all;
    std::map<std::uint32_t, Micros> reading;
    std::map<std::uint32_t, Micros> unpacking;
    const auto end = [](std::map<std::uint32_t, Micros>& open, const Said& said,
                        std::vector<Work>& done) {
        const auto found = open.find(said.subject);
        if (found == open.end()) return;
        done.push_back({said.subject, found->second, said.at, said.line});
        open.erase(found);
    };
    for (const Said& said : session.said) {
        switch (said.kind) {
        case EventKind::piece_reading: reading[said.subject] = said.at; break;
        case EventKind::piece_unpacking:
            end(reading, said, all.reads);
            unpacking[said.subject] = said.at;
            break;
        case EventKind::piece_resident:
        case EventKind::level_ready: // of levels; where the log does not tell of pieces
            end(reading, said, all.reads);
            end(unpacking, said, all.unpackings);
            break;
        case EventKind::piece_given_up:
        case EventKind::level_unloaded:
            reading.erase(said.subject);
            unpacking.erase(said.subject);
            break;
        default: break;
        }
    }
    return all;
}

bool overlap(const Work& one, const Work& other) {
    return one.piece != other.piece && one.from < other.to && other.from < one.to;
}
bool is_alone(const Work& work, const std::vector<Work>& all) {
    return std::none_of(all.begin(), all.end(),
                        [&](const Work& other) { return overlap(work, other); });
}
/// Whether something else was being unpacked when its read ended, so that it may have waited.
bool waited(const Work& read, const std::vector<Work>& unpackings) {
    return std::any_of(unpackings.begin(), unpackings.end(), [&](const Work& other) {
        return other.piece != read.piece && other.from < read.to && other.to >= read.to;
    });
}

} // namespace

std::vector<calibrate::Measurement> measured_alone(const plan::Plan& plan,
                                                   const loading::Catalogue& catalogue,
                                                   std::span<const PlayResult> plays,
                                                   std::span<const Log> logs) {
    std::vector<calibrate::Measurement> all;
    const auto add = [&](const Log& log, const Work& work, bool read) {
        const loading::Piece& piece = catalogue.pieces[loading::PieceId{work.piece}];
        calibrate::Measurement measured;
        measured.line = log.events[work.line].place.line;
        measured.piece = piece_name(plan, work.piece);
        measured.packed = plan::in_mebibytes(piece.packed);
        measured.unpacked = plan::in_mebibytes(piece.unpacked);
        (read ? measured.read : measured.unpack) = plan::in_seconds(work.to - work.from);
        all.push_back(std::move(measured));
    };
    for (std::size_t play = 0; play < plays.size(); ++play) {
        for (const SessionResult& session : plays[play].sessions) {
            const SessionWork work = work_in(session.session);
            for (const Work& read : work.reads) {
                const bool counts = catalogue.pieces[loading::PieceId{read.piece}].read &&
                                    is_alone(read, work.reads) && !waited(read, work.unpackings);
                if (counts) add(logs[play], read, true);
            }
            for (const Work& unpacking : work.unpackings) {
                if (is_alone(unpacking, work.unpackings)) add(logs[play], unpacking, false);
            }
        }
    }
    return all;
}

void apply_figures(plan::Plan& plan, plan::DeviceId device, const DeviceFigures& figures) {
    plan::Device& of = plan.devices[device];
    const auto rate = [](double seconds_a_mebibyte) {
        const auto bytes = static_cast<double>(plan::mebibytes(1).count);
        return plan::ByteRate{std::max<std::int64_t>(1, std::llround(bytes / seconds_a_mebibyte))};
    };
    for (const calibrate::Fitted& each : figures) {
        if (!each.line || each.line->per_unit <= 0) continue;
        if (each.part == calibrate::Part::read) {
            constexpr double micros_in_second = 1e6;
            of.read.rate = rate(each.line->per_unit);
            of.read.latency = Micros{std::llround(each.line->at_zero * micros_in_second)};
        } else if (each.part == calibrate::Part::unpack && of.unpack) {
            of.unpack->rate = rate(each.line->per_unit);
        }
    }
}

Distance distance(std::span<const PlayResult> plays) {
    Distance all;
    std::int64_t sum = 0;
    for (const PlayResult& play : plays) {
        for (const SessionResult& session : play.sessions) {
            for (const Outcome& outcome : session.outcomes) {
                const bool counts = outcome.planned && outcome.measured && !outcome.adopted &&
                                    outcome.transition != 0 && outcome.arrival;
                if (!counts) continue;
                ++all.loads;
                sum += std::abs(outcome.off.count);
            }
        }
    }
    if (all.loads > 0) all.mean = Micros{sum / static_cast<std::int64_t>(all.loads)};
    return all;
}

namespace {

/// The one piece that came, from its first event to being loaded, between two lines of a log, where
/// nothing else came or went.
std::optional<std::uint32_t> came_alone(std::span<const Said> said) {
    std::optional<std::uint32_t> piece;
    bool began = false;
    bool loaded = false;
    for (const Said& each : said) {
        if (each.kind == EventKind::fact_set) continue;
        if (piece && *piece != each.subject) return std::nullopt;
        piece = each.subject;
        began =
            began || each.kind == EventKind::piece_queued || each.kind == EventKind::piece_reading;
        loaded =
            loaded || each.kind == EventKind::piece_resident || each.kind == EventKind::level_ready;
    }
    return began && loaded ? piece : std::nullopt;
}

void measure_sizes(const Session& session, std::map<std::uint32_t, MeasuredSize>& sizes) {
    auto first = session.said.begin();
    for (std::size_t i = 0; i < session.memory.size(); ++i) {
        const auto& [to, after] = session.memory[i];
        auto last = first;
        while (last != session.said.end() && last->at <= to) ++last;
        const auto piece = i == 0 ? std::nullopt : came_alone({first, last});
        first = last;
        if (!piece || after <= session.memory[i - 1].second) continue;
        MeasuredSize& size = sizes[*piece];
        size.piece = loading::PieceId{*piece};
        size.memory = std::max(size.memory, after - session.memory[i - 1].second);
        ++size.measurements;
    }
}

} // namespace

std::vector<MeasuredSize> measured_sizes(std::span<const PlayResult> plays) {
    std::map<std::uint32_t, MeasuredSize> sizes;
    for (const PlayResult& play : plays) {
        for (const SessionResult& result : play.sessions) measure_sizes(result.session, sizes);
    }
    std::vector<MeasuredSize> all;
    for (const auto& [piece, size] : sizes) all.push_back(size);
    return all;
}

} // namespace hestrel::verify
