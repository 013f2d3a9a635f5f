#pragma once
// Logs of plays, laid over a plan.

#include "exchange/play_log.hpp"
#include "support/plan_text.hpp"
#include "verify/verify.hpp"

#include <string>
#include <vector>

namespace hestrel::tests {

/// A log that can be read.
inline verify::Log log_from(const std::string& text) {
    exchange::ReadLog read = exchange::read_play_log(text, "play.csv", {});
    for (const std::string& error : read.errors) FAIL_CHECK(error);
    REQUIRE(read.errors.empty());
    return std::move(read.log);
}

/// A log laid over a plan whose first route the play begins as.
struct Verified {
    Verified(const plan::Plan& plan, const verify::Log& log,
             plan::DeviceId device = plan::DeviceId{0}, const verify::Options& options = {})
        : scripted(plan, plan::RouteId{0}) {
        verify::Play play = verify::play_of(plan, plan::RouteId{0}, log);
        const auto routes = scripted.routes_for(play.players);
        const auto file = static_cast<std::uint32_t>(scripted.plan().files.size());
        scripted.plan().files.push_back(log.name);
        walk::Ground ground(scripted.plan());
        result = verify::verify(scripted.plan(), routes, device, log, std::move(play), file,
                                options, ground);
    }

    /// "name: message" of each finding.
    [[nodiscard]] Lines lines() const {
        Lines lines;
        for (const plan::Finding& each : result.findings)
            lines.push_back(each.name + ": " + each.message);
        return lines;
    }

    verify::ScriptedPlan scripted;
    verify::PlayResult result;
};

} // namespace hestrel::tests
