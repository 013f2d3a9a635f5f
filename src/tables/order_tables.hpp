#pragma once
// The order of an edition as files.

#include "order/edition_order.hpp"
#include "order/parcel_order.hpp"
#include "order/transition_order.hpp"
#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>
#include <vector>

namespace hestrel::tables {

/// `position,level,proposed,first_asked_s,route,device,needs,kits,goes_to,pinned,reason`, one row
/// per level in today's order; lists within a cell are separated by blanks.
std::string edition_order_csv(const plan::Plan& plan, const order::EditionOrder& order,
                              const std::vector<walk::Record>& records);

/// `file,line,list,use,from,today,proposed`, one row for each step that goes by position.
std::string position_uses_csv(const plan::Plan& plan, const order::EditionOrder& order);

/// `route,device,parcel,size_mib,arrives_s,proposed_s,needed_s,late_s,ahead_mib`, one row per
/// route, device and parcel; `proposed_s` is when it arrives in the order in which players wait
/// least, `ahead_mib` what must be there before play begins so that nobody waits.
std::string parcels_csv(const plan::Plan& plan, const std::vector<order::ParcelOrder>& orders,
                        const std::vector<walk::Record>& records);

/// `transition,device,asked,awaited,takes_s,best_order,best_s,saves_s,bound_s,exact`, one row per
/// list, or near rule, and device; levels within a cell are separated by blanks.
std::string transition_orders_csv(const plan::Plan& plan,
                                  const std::vector<order::TransitionOrder>& orders);

/// `transition,device,order,piece,kind,read_start_s,read_end_s,unpack_start_s,unpack_end_s,make_start_s,make_end_s,shown_s`,
/// a row per piece in order of asking, as the plan has it (`today`) and in the best order (`best`).
std::string transition_pieces_csv(const plan::Plan& plan,
                                  const std::vector<order::TransitionOrder>& orders);

/// What a transition belongs to: "trigger quay-approach", "near mooring-boats".
std::string transition_name(const plan::Plan& plan, const order::TransitionOrder& order);
/// The parcels in the order in which players wait least: "core, heights, coast".
std::string parcel_names(const plan::Plan& plan, const order::ParcelOrder& order);

/// All editions, with the names that the tables use.
std::string orders_json(const plan::Plan& plan, const std::vector<order::EditionOrder>& orders,
                        const std::vector<order::ParcelOrder>& parcels,
                        const std::vector<order::TransitionOrder>& transitions,
                        const std::vector<walk::Record>& records);

/// When a level is asked for first: "12.30 s", "after 3 moves", "never".
std::string first_asked_text(const order::ListedLevel& listed);

/// Why a level moves: "first asked for at 12.30 s, before quay (16.20 s)", "post-hall needs it".
std::string move_reason(const plan::Plan& plan, const order::EditionOrder& order,
                        const order::Relocation& move);

/// The levels and kits that must be there before a level: "lake, timber".
std::string needs_text(const plan::Plan& plan, const order::ListedLevel& listed);

/// What a step does by position: "position 6", "next from title", "back from quay".
std::string use_text(const plan::Plan& plan, const order::PositionUse& use);

/// A circle in full, with places: "hall needs quay (plan.yaml:3:9), quay needs hall (…)".
std::string circle_text(const plan::Plan& plan, const order::NeedCircle& circle);

} // namespace hestrel::tables
