#pragma once
// Advice as tables and JSON.

#include "advise/advice.hpp"
#include "edit/settings.hpp"
#include "plan/plan.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// Each piece of advice as values to set, in the order of their numbers; without any where no
/// values can say it.
using AdviceSettings = std::vector<std::optional<std::vector<source::Override>>>;
/// `plan` was read from `path`, with `tried` values. Throws FileError where a file can't be read.
AdviceSettings settings_of(source::Disk& disk, const plan::Plan& plan, const std::string& path,
                           const std::vector<source::Override>& tried,
                           const advise::Advised& advised);

/// `cause,level,device,read_mib,read_s,ready_s,shown_s,longest_s,longest_on,way_m,lead_s,slack_s,`
/// `seen_slack_s`, one row for each load and device.
std::string load_times_csv(const plan::Plan& plan, const advise::Advised& advised);
/// `number,kind,mends,level,amount,unit,advice,slack_s,slack_one_less_s,harms,set`.
std::string advice_csv(const plan::Plan& plan, const advise::Advised& advised,
                       const AdviceSettings& settings);
/// `veil,device,cause,level,takes_s,min_s,least_s`.
/// Who could keep the game of each session, and what came of it.
std::string keepers_csv(const plan::Plan& plan, const advise::Advised& advised);
std::string veil_times_csv(const plan::Plan& plan, const advise::Advised& advised);
/// `list,step,levels,wait_s,takes_s,on,least_s`.
std::string wait_times_csv(const plan::Plan& plan, const advise::Advised& advised);

/// All of it.
std::string advice_json(const plan::Plan& plan, const advise::Advised& advised,
                        const AdviceSettings& settings);

} // namespace hestrel::tables
