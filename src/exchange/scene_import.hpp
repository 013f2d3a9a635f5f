#pragma once
// Shapes of a 3D tool taken over into a plan (docs/guide/from-your-map.md).

#include "exchange/plan_changes.hpp"
#include "exchange/scene.hpp"

#include <string>
#include <vector>

namespace hestrel::exchange {

/// What has to be set in the plan's files so that its shapes are where `things` are. A shape that
/// is the same to what a 3D tool keeps stays as it is written. Lengths are written to the
/// millimetre. `path` is the plan's main file. Throws FileError where a file can't be read again.
Imported import_scene(source::Disk& disk, const plan::Plan& plan, const std::string& path,
                      const std::vector<SceneThing>& things);

} // namespace hestrel::exchange
