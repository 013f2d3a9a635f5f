// hestrel help [TOPIC]: the pages of docs/, where there is no browser.

#include "command/embedded.hpp"
#include "command/output.hpp"
#include "command/page_text.hpp"
#include "plan/finding_kinds.hpp"
#include "source/did_you_mean.hpp"
#include "tables/finding_texts.hpp"

#include <fmt/format.h>

namespace hestrel::command {

namespace {

constexpr std::string_view contents = "README"; // the page that lists all others

int run_help(const Call& call) {
    if (call.common().quiet) return exit_code::fine;
    const std::string topic = call.has("topic") ? call.text("topic") : std::string(contents);
    std::vector<std::string> topics;
    for (const source::EmbeddedFile& page : embedded_pages()) {
        topics.push_back(topic_of(page.name));
        if (topics.back() != topic) continue;
        Output::print(page_text(page.text));
        return exit_code::fine;
    }
    if (const plan::FindingKind* kind = plan::find_kind(topic)) {
        Output::print(tables::explained(*kind));
        return exit_code::fine;
    }
    for (const plan::FindingKind& kind : plan::finding_kinds()) topics.emplace_back(kind.name);
    const std::vector<std::string_view> known(topics.begin(), topics.end());
    throw UsageError(fmt::format("there is no page or finding \"{}\"{}; hestrel help lists them",
                                 topic, source::hint(topic, known)));
}

constexpr std::string_view help_usage = R"(usage: hestrel help [TOPIC]

Lists the pages of the documents, or prints one.
A topic is the name of a page (first-plan), of a command (walk) or of a finding
(stood-in-gap).)";

} // namespace

Command help_command() {
    return {"help",
            "[TOPIC]",
            "the guide: recipes, commands, findings, the model",
            help_usage,
            options_for("help", {}),
            &run_help,
            {"topic"},
            0,
            ""};
}

} // namespace hestrel::command
