// hestrel schema: the JSON Schema of a plan, for editors to complete and check from.

#include "source/schema.hpp"

#include "command/options.hpp"
#include "source/disk.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

boost::program_options::options_description schema_options() {
    namespace po = boost::program_options;
    auto described = options_for("schema", {});
    described.add_options()("markdown", "every key for people to read, as Markdown")(
        "out", po::value<std::string>()->value_name("FILE"),
        "write to a file, not to standard output");
    return described;
}

int schema_command(const Arguments& arguments) {
    const auto values = parse(
        arguments, schema_options(), {},
        "usage: hestrel schema [options]\n\n"
        "Prints the JSON Schema (draft 7) of one plan file, with a description of every key.\n"
        "Editors that know YAML complete and check from it; put this line at a file's top:\n\n"
        "  # yaml-language-server: $schema=plan.schema.json");
    if (!values) return exit_code::fine;
    const std::string text =
        values->count("markdown") > 0 ? source::plan_keys_markdown() : source::plan_schema();
    if (values->count("out") > 0) {
        source::RealDisk().write((*values)["out"].as<std::string>(), text);
    } else {
        fmt::print("{}", text);
    }
    return exit_code::fine;
}

} // namespace hestrel::command
