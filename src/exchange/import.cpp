#include "exchange/import.hpp"

#include "edit/applied.hpp"
#include "exchange/gltf_reader.hpp"
#include "exchange/level_list.hpp"
#include "exchange/scene_import.hpp"
#include "plan/names.hpp"
#include "source/plan_reader.hpp"
#include "source/yaml_writer.hpp"

#include <algorithm>
#include <array>
#include <filesystem>
#include <fmt/format.h>
#include <string_view>

namespace hestrel::exchange {

namespace {

std::string ending_of(const std::string& file) {
    std::string ending = std::filesystem::path(file).extension().string();
    for (char& letter : ending) {
        if (letter >= 'A' && letter <= 'Z') letter = static_cast<char>(letter - 'A' + 'a');
    }
    return ending;
}

Imported taken_over(source::Disk& disk, const plan::Plan& plan, const std::string& plan_path,
                    const std::string& file) {
    if (ending_of(file) == ".csv")
        return import_levels(disk, plan, plan_path, disk.read(file), file);
    ReadScene scene = read_gltf(disk, file);
    if (!scene.errors.empty()) {
        Imported nothing;
        nothing.errors = std::move(scene.errors);
        return nothing;
    }
    Imported imported = import_scene(disk, plan, plan_path, scene.things);
    imported.notes.insert(imported.notes.begin(), scene.notes.begin(), scene.notes.end());
    for (std::string& error : imported.errors) error = file + ": error: " + error;
    return imported;
}

} // namespace

std::string new_plan_text(const std::string& plan_path) {
    const std::string name = std::filesystem::path(plan_path).stem().string();
    return fmt::format("hestrel: 1\nname: {}\n", source::scalar_yaml(name));
}

bool can_be_imported(const std::string& file) {
    const std::string ending = ending_of(file);
    return ending == ".gltf" || ending == ".glb" || ending == ".csv";
}

ImportedFile import_file(source::Disk& disk, const std::string& plan_path,
                         const std::string& file) {
    ImportedFile result;
    std::vector<std::string>& errors = result.what.errors;
    const source::PlanReading reading = source::read_plan(disk, plan_path);
    if (reading.has_errors()) {
        for (const plan::Finding& finding : reading.findings) {
            if (plan::is_error(finding))
                errors.push_back(plan::finding_text(reading.plan, finding));
        }
        return result;
    }
    result.what = taken_over(disk, reading.plan, plan_path, file);
    if (!errors.empty()) return result;
    try {
        result.files = edit::applied(disk, plan_path, result.what.settings);
    } catch (const edit::ApplyError& error) {
        errors.push_back(fmt::format("{}: error: {}", plan_path, error.what()));
        return result;
    }
    // The proof: it is a plan still.
    source::ChangedDisk changed(disk, result.files);
    const source::PlanReading after = source::read_plan(changed, plan_path);
    if (!after.has_errors()) return result;
    result.files.clear();
    errors.push_back(fmt::format("{}: error: with what it says the plan would be wrong:", file));
    for (const plan::Finding& finding : after.findings) {
        if (plan::is_error(finding)) errors.push_back(plan::finding_text(after.plan, finding));
    }
    return result;
}

} // namespace hestrel::exchange
