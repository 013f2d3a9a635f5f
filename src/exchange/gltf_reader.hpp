#pragma once
// What a glTF 2.0 file of a 3D tool says of a plan: nodes whose `extras` name things of it
// (docs/guide/from-your-map.md).

#include "exchange/scene.hpp"
#include "source/disk.hpp"

#include <string>
#include <vector>

namespace hestrel::exchange {

struct ReadScene {
    std::vector<SceneThing> things;  ///< in the order of the nodes; boxes of one level in one
    std::vector<std::string> notes;  ///< what was taken otherwise than it stands there
    std::vector<std::string> errors; ///< what is wrong with the file; it is not to be used then
};

/// `.gltf` or `.glb`. A box is a node's mesh by its bounds, turned about the vertical; any other
/// turn makes it the box around that, with a note. Images are not looked at; a buffer outside of
/// the file's folder is an error, and so are nodes that go round in a circle. Throws FileError
/// where the file can't be read.
ReadScene read_gltf(source::Disk& disk, const std::string& path);

} // namespace hestrel::exchange
