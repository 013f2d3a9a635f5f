#pragma once
// A walk's record as files: the tables and JSON that docs/commands/walk.md describes.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <span>
#include <string>

namespace hestrel::tables {

/// `time_s,event,subject,detail`, in the order in which things happened.
std::string events_csv(const plan::Plan& plan, const walk::Record& record);

/// `transition,piece,kind,priority,asked_s,read_start_s,read_end_s,unpack_start_s,unpack_end_s,make_start_s,make_end_s`,
/// in order of asking; times are empty where that never happened. Transition 0 is the boot.
std::string loads_csv(const plan::Plan& plan, const walk::Record& record);

/// `time_s,frame_ms`: the work of every frame from then on, `base` and what is shown.
std::string frames_csv(const walk::Record& record);

/// One row per transition and level that it asked for; one without a level where it asked for none.
std::string transitions_csv(const plan::Plan& plan, const walk::Record& record);
/// Of a session (docs/model.md section 11): each transition on each machine that it reached.
std::string machines_csv(const plan::Plan& plan, std::span<const walk::Record> session);
/// `time_s,total_mib,staging_mib,veils_mib,<pool>_mib…`, one row per change.
std::string memory_csv(const plan::Plan& plan, const walk::Record& record);

/// Everything, with the names that the tables use.
std::string walk_json(const plan::Plan& plan, const walk::Record& record);

/// "fine", "over budget" or "stuck".
std::string verdict_name(walk::Verdict verdict);

/// One row per walk: the summary as a table for machines. Times in s, memory in MiB.
std::string summary_csv(const plan::Plan& plan, const std::vector<walk::Record>& records);
std::string summary_json(const plan::Plan& plan, const std::vector<walk::Record>& records);

} // namespace hestrel::tables
