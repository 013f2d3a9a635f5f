// hestrel schema: the JSON Schema of a plan, for editors to complete and check from.

#include "source/schema.hpp"

#include "command/output.hpp"
#include "source/own_mark.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

int run_schema(const Call& call) {
    const std::string text =
        call.has("markdown") ? source::plan_keys_markdown() : source::plan_schema();
    if (call.has("out")) {
        const std::string mark =
            call.has("markdown") ? fmt::format("<!-- {} -->\n\n", source::own_mark) : "";
        Output(call.common()).write_alone(call.text("out"), mark + text);
    } else if (!call.common().quiet) {
        Output::put(text);
    }
    return exit_code::fine;
}

constexpr std::string_view schema_usage = R"(usage: hestrel schema [options]

Prints the JSON Schema (draft 7) of one plan file, with a description of every key.
Editors that know YAML complete and check with it. Put this line at the top of a file:

  # yaml-language-server: $schema=plan.schema.json)";

} // namespace

Command schema_command() {
    namespace po = boost::program_options;
    auto described = options_for("schema", {});
    described.add_options()("markdown", "every key for people to read, as Markdown")(
        "out", po::value<std::string>()->value_name("FILE"),
        "write to a file, not to standard output");
    add_force(described);
    return {"schema",     "",        "the JSON Schema of a plan, for editors",
            schema_usage, described, &run_schema,
            {},           0,         ""};
}

} // namespace hestrel::command
