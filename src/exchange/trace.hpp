#pragma once
// A walk as Trace Event JSON, the open format of trace viewers: reads, workers, the main thread,
// veils and players as tracks, memory as counters, and everything that happened as instants. It is
// a log that `verify` reads.

#include "plan/plan.hpp"
#include "walk/record.hpp"

#include <string>

namespace hestrel::exchange {

/// Times in µs. One machine's walk; of a session, one machine's part.
std::string trace_json(const plan::Plan& plan, const walk::Record& record);

} // namespace hestrel::exchange
