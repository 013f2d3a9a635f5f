#pragma once
// What files and folders of results are called. Different things never share a name: where names of
// a plan would join to the same, `~` stands between, which no name of a plan has.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::tables {

/// `<route>--<device>`; of a session `<route>--<devices of its machines, joined by +>`.
std::string walk_folder(const plan::Plan& plan, plan::RouteId route,
                        const std::vector<plan::DeviceId>& devices);
/// Where a record's files are: that; of a machine of a session, a folder of its name in it.
std::string record_folder(const plan::Plan& plan, const walk::Record& record);

/// What files about an edition begin with, beside those about all editions, whose names are
/// `others` without their endings; `parts` are what such files have behind the name (`-positions`).
std::string edition_file(std::string_view edition, const std::vector<std::string_view>& others,
                         const std::vector<std::string_view>& parts);

/// What a witness's file of an edition begins with, before `-<finding>` or `-hurried-<finding>`.
std::string witness_file(std::string_view edition);

} // namespace hestrel::tables
