#pragma once
// A glTF file taken apart by tinygltf, which may open nothing else but buffers beside it. Part of
// gltf_reader.

#include "source/disk.hpp"

#include <stdexcept>
#include <string>
#include <tiny_gltf.h>

namespace hestrel::exchange {

/// Why a file can't be taken apart; a line as a compiler's.
class GltfError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// Scenes, nodes, meshes and their numbers; images, materials and animations are left out. Throws
/// GltfError, and FileError where the file itself can't be read.
tinygltf::Model load_gltf(source::Disk& disk, const std::string& path);

} // namespace hestrel::exchange
