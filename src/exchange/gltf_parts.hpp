#pragma once
// What a glTF file is made of besides its nodes: numbers in a buffer, and boxes and spheres in
// colours. Part of gltf_writer.

#include "source/json.hpp"

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstring>
#include <map>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::exchange {

/// Red, green, blue (linear) and how much it covers.
using Colour = std::array<double, 4>;
struct Look {
    std::string_view name;
    Colour colour;
};

/// Numbers of one kind behind each other in the file's buffer.
class Buffer {
public:
    enum Target : int { vertices = 34962, indices = 34963, neither = 0 };

    /// A view of what `values` are, and an accessor to it; the accessor's number.
    template <class Number>
    std::size_t add(const std::vector<Number>& values, std::size_t width, Target target) {
        while (bytes_.size() % sizeof(float) != 0) bytes_.push_back('\0');
        source::Json view{{"buffer", 0},
                          {"byteOffset", bytes_.size()},
                          {"byteLength", values.size() * sizeof(Number)}};
        if (target != neither) view["target"] = static_cast<int>(target);
        const std::size_t at = bytes_.size();
        bytes_.resize(at + values.size() * sizeof(Number));
        std::memcpy(bytes_.data() + at, values.data(), values.size() * sizeof(Number));
        views_.push_back(std::move(view));
        constexpr int of_float = 5126;
        constexpr int of_short = 5123;
        constexpr std::array<const char*, 4> types{"", "SCALAR", "VEC2", "VEC3"};
        source::Json accessor{
            {"bufferView", views_.size() - 1},
            {"componentType", sizeof(Number) == sizeof(float) ? of_float : of_short},
            {"count", values.size() / width},
            {"type", types.at(width)}};
        for (std::size_t part = 0; part < width; ++part) {
            Number least = values.at(part);
            Number most = least;
            for (std::size_t i = part; i < values.size(); i += width) {
                least = std::min(least, values[i]);
                most = std::max(most, values[i]);
            }
            accessor["min"].push_back(least);
            accessor["max"].push_back(most);
        }
        accessors_.push_back(std::move(accessor));
        return accessors_.size() - 1;
    }
    void put(source::Json& file) const;

private:
    std::string bytes_;
    source::Json views_ = source::Json::array();
    source::Json accessors_ = source::Json::array();
};

/// Boxes and spheres of a metre each way about the origin, each with its colour once.
class Meshes {
public:
    explicit Meshes(Buffer& buffer) : buffer_(buffer) {}

    /// Of a sphere, or a box; the mesh's number.
    std::size_t mesh(bool round, const Look& look);
    void put(source::Json& file) const;

private:
    std::size_t material(const Look& look);

    Buffer& buffer_;
    source::Json meshes_ = source::Json::array();
    source::Json materials_ = source::Json::array();
    std::array<source::Json, 2> forms_; ///< of a box, of a sphere
    std::map<std::pair<bool, std::string_view>, std::size_t> mesh_of_;
    std::map<std::string_view, std::size_t> material_of_;
};

} // namespace hestrel::exchange
