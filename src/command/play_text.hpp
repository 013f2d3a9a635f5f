#pragma once
// What play answers, in no more than 100 columns by 24 lines.

#include "play/possible.hpp"
#include "play/session.hpp"

#include <string>
#include <vector>

namespace hestrel::command {

/// How everything stands, what just happened and what can be done, numbered. `colour`: for a
/// terminal that shows it.
std::string play_answer(const play::Session& session, bool colour);

/// What one types to do it: "go quay", "until shown(quay)".
std::string line_of(const play::Session& session, const play::Possible& possible);

/// Who asked for a level, when, and what it waits for.
std::string why_text(const play::Session& session, plan::LevelId level);

/// Why the step that was refused can't be done.
std::string refusal_text(const play::Session& session);

} // namespace hestrel::command
