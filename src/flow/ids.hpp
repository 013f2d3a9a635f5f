#pragma once
// Numbers of what comes and goes while a game is played.

#include "plan/ids.hpp"

namespace hestrel::flow {

/// One run of a list of steps: a transition. Numbered in order of start; 0 is the boot.
using RunId = plan::Index<struct RunTag>;
/// One of the players that take part, numbered from 0.
using PlayerId = plan::Index<struct PlayerTag>;
using plan::MachineId;

} // namespace hestrel::flow
