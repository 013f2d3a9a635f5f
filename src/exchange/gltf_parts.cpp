#include "exchange/gltf_parts.hpp"

#include "source/fingerprint.hpp"

#include <cmath>
#include <numbers>

namespace hestrel::exchange {

namespace {

using source::Json;

struct Form {
    std::vector<float> points, normals;
    std::vector<std::uint16_t> corners; ///< of triangles

    std::uint16_t add(const std::array<float, 3>& point, const std::array<float, 3>& normal) {
        points.insert(points.end(), point.begin(), point.end());
        normals.insert(normals.end(), normal.begin(), normal.end());
        return static_cast<std::uint16_t>(points.size() / 3 - 1);
    }
    void face(std::uint16_t a, std::uint16_t b, std::uint16_t c, std::uint16_t d) {
        for (const std::uint16_t corner : {a, b, c, a, c, d}) corners.push_back(corner);
    }
};

/// A metre each way about the origin.
Form unit_box() {
    Form form;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        for (const float side : {-0.5F, 0.5F}) {
            std::array<std::uint16_t, 4> corners{};
            for (std::size_t i = 0; i < corners.size(); ++i) {
                std::array<float, 3> point{};
                std::array<float, 3> normal{};
                const float across = i == 1 || i == 2 ? 0.5F : -0.5F;
                const float up = i >= 2 ? 0.5F : -0.5F;
                point.at(axis) = side;
                point.at((axis + 1) % 3) = across;
                point.at((axis + 2) % 3) = up;
                normal.at(axis) = 2 * side;
                corners.at(i) = form.add(point, normal);
            }
            if (side > 0) {
                form.face(corners[0], corners[1], corners[2], corners[3]);
            } else {
                form.face(corners[3], corners[2], corners[1], corners[0]);
            }
        }
    }
    return form;
}

/// A metre across.
Form unit_sphere() {
    constexpr std::uint16_t around = 16;
    constexpr std::uint16_t rings = 8;
    Form form;
    for (std::uint16_t ring = 0; ring <= rings; ++ring) {
        const double down = std::numbers::pi * ring / rings;
        for (std::uint16_t i = 0; i <= around; ++i) {
            const double turn = 2 * std::numbers::pi * i / around;
            const std::array<float, 3> normal{static_cast<float>(std::sin(down) * std::cos(turn)),
                                              static_cast<float>(std::cos(down)),
                                              static_cast<float>(std::sin(down) * std::sin(turn))};
            form.add({normal[0] / 2, normal[1] / 2, normal[2] / 2}, normal);
        }
    }
    const auto at = [&](int ring, int i) {
        return static_cast<std::uint16_t>(ring * (around + 1) + i);
    };
    for (int ring = 0; ring < rings; ++ring) {
        for (int i = 0; i < around; ++i) {
            const std::array<std::uint16_t, 4> corners{at(ring, i), at(ring, i + 1),
                                                       at(ring + 1, i + 1), at(ring + 1, i)};
            if (ring > 0)
                form.corners.insert(form.corners.end(), {corners[0], corners[1], corners[2]});
            if (ring + 1 < rings)
                form.corners.insert(form.corners.end(), {corners[0], corners[2], corners[3]});
        }
    }
    return form;
}

} // namespace

void Buffer::put(Json& file) const {
    if (bytes_.empty()) return;
    file["buffers"] = {{{"byteLength", bytes_.size()},
                        {"uri", "data:application/octet-stream;base64," + source::base64(bytes_)}}};
    file["bufferViews"] = views_;
    file["accessors"] = accessors_;
}

std::size_t Meshes::mesh(bool round, const Look& look) {
    const auto [known, fresh] = mesh_of_.try_emplace(std::pair(round, look.name), meshes_.size());
    if (!fresh) return known->second;
    auto& form = forms_[round ? 1 : 0];
    if (form.is_null()) {
        const Form made = round ? unit_sphere() : unit_box();
        form = {{"attributes",
                 {{"POSITION", buffer_.add(made.points, 3, Buffer::vertices)},
                  {"NORMAL", buffer_.add(made.normals, 3, Buffer::vertices)}}},
                {"indices", buffer_.add(made.corners, 1, Buffer::indices)}};
    }
    Json primitive = form;
    primitive["material"] = material(look);
    meshes_.push_back({{"name", std::string(look.name) + (round ? " sphere" : " box")},
                       {"primitives", {std::move(primitive)}}});
    return known->second;
}
std::size_t Meshes::material(const Look& look) {
    const auto [known, fresh] = material_of_.try_emplace(look.name, materials_.size());
    if (fresh) {
        Json made{
            {"name", look.name},
            {"pbrMetallicRoughness",
             {{"baseColorFactor", look.colour}, {"metallicFactor", 0}, {"roughnessFactor", 1}}}};
        if (look.colour[3] < 1) {
            made["alphaMode"] = "BLEND";
            made["doubleSided"] = true;
        }
        materials_.push_back(std::move(made));
    }
    return known->second;
}

void Meshes::put(Json& file) const {
    if (meshes_.empty()) return;
    file["meshes"] = meshes_;
    file["materials"] = materials_;
}

} // namespace hestrel::exchange
