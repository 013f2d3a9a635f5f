#include "command/witnesses.hpp"

#include "explore/explored.hpp"
#include "explore/witness.hpp"
#include "tables/explore_tables.hpp"
#include "tables/file_names.hpp"

#include <filesystem>
#include <fmt/format.h>

namespace hestrel::command {

Witnesses::Witnesses(std::string folder, const std::string& plan_path, Output& output)
    : folder_(std::move(folder)), output_(output) {
    if (folder_.empty()) return;
    std::error_code ignored;
    std::filesystem::path include = std::filesystem::relative(
        std::filesystem::absolute(plan_path), std::filesystem::absolute(folder_), ignored);
    if (include.empty()) include = std::filesystem::absolute(plan_path);
    include_ = include.generic_string();
}

std::string Witnesses::write(const explore::Explorer& explorer, const explore::Way& way,
                             const std::string& what, const std::string& about) {
    if (folder_.empty()) return {};
    const bool hurried = explorer.options().pace == explore::Pace::hurried;
    const std::string edition = explore::edition_name(explorer);
    const std::string kind = fmt::format("{}-{}", hurried ? "-hurried" : "", what);
    const std::string rest = fmt::format("{}-{}", kind, ++numbers_[edition + kind]);
    const std::string file = tables::witness_file(edition) + rest + ".yaml";
    plan::Plan plan = explorer.plan();
    const plan::Route route = explore::route_of(explorer, way, edition + rest, plan);
    output_.write_in(folder_, file, tables::witness_yaml(plan, route, include_, about));
    return folder_ + "/" + file;
}

} // namespace hestrel::command
