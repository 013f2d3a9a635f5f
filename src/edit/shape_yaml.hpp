#pragma once
// Shapes as a plan writes them, on one line.

#include "plan/plan.hpp"
#include "source/quantities.hpp"
#include "source/yaml_writer.hpp"

#include <string>

namespace hestrel::edit {

/// `[1, 0, 2.5]`
inline std::string point_yaml(const plan::Vec3& point) {
    return source::flow_list({source::exact_number(point[0]), source::exact_number(point[1]),
                              source::exact_number(point[2])});
}
/// `{min: [0, 0, 0], max: [1, 1, 1], turn: 30}`
inline std::string box_yaml(const plan::Box& box) {
    source::FlowMap map;
    map.add("min", point_yaml(box.min)).add("max", point_yaml(box.max));
    if (box.turn != 0) map.add("turn", source::exact_number(box.turn));
    return map.text();
}

} // namespace hestrel::edit
