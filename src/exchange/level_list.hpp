#pragma once
// A level list, as spreadsheets keep it, taken over into a plan (docs/guide/from-your-map.md).

#include "exchange/plan_changes.hpp"

#include <string>
#include <string_view>

namespace hestrel::exchange {

/// CSV: `level,parent,title,owner,purpose`, a column for each pool, `packed,objects`, in any order;
/// all but `level` can be missing, and an empty cell says nothing. New levels are added, figures
/// that differ get their new value. Sizes are in MiB, or have a unit. `list_path` is for messages.
/// Throws FileError where a file of the plan can't be read again.
Imported import_levels(source::Disk& disk, const plan::Plan& plan, const std::string& plan_path,
                       std::string_view csv, const std::string& list_path);

} // namespace hestrel::exchange
