#include "source/step_name.hpp"

namespace hestrel::source {

std::string_view step_name(ReadContext& reading, const Value& value, const Fields& fields,
                           const ObjectKeys& keys) {
    std::string_view name;
    for (const Key& key : keys.keys) {
        if (key.beside || !fields.has(key.name)) continue;
        if (!name.empty()) {
            reading.wrong_value(value, fmt::format("one step can't be both {} and {}; make it two",
                                                   name, key.name));
            return {};
        }
        name = key.name;
    }
    if (name.empty() && value.is_mapping())
        reading.wrong_value(value, "this step says nothing to do");
    return name;
}

} // namespace hestrel::source
