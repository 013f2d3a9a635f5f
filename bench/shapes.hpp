#pragma once
// Plans of shapes that people write, at any size: what `scripts/bench` measures.

#include <functional>
#include <map>
#include <string>
#include <vector>

namespace hestrel::bench {

/// A plan as files: by name relative to a folder, their text. `plan.yaml` is the plan.
using Files = std::map<std::string, std::string>;

/// A shape of plan, of which there are plans of any size. None has problems.
struct Shape {
    std::string name;
    std::string about; ///< what there are `size` of
    std::function<Files(int size)> files;
};

/// All shapes.
const std::vector<Shape>& shapes();
/// The one of that name. Throws std::out_of_range.
const Shape& shape(const std::string& name);

} // namespace hestrel::bench
