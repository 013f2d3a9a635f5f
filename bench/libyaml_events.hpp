#pragma once
// What reading a plan is held against: libyaml alone, from the first event to the last.

#include <stdexcept>
#include <string_view>
#include <yaml.h>

namespace hestrel::bench {

/// Lets libyaml emit all events of a text.
inline void read_events(std::string_view text) {
    yaml_parser_t parser;
    yaml_parser_initialize(&parser);
    yaml_parser_set_input_string(&parser, reinterpret_cast<const unsigned char*>(text.data()),
                                 text.size());
    bool done = false;
    while (!done) {
        yaml_event_t event;
        if (yaml_parser_parse(&parser, &event) == 0)
            throw std::logic_error("the bench plan is broken");
        done = event.type == YAML_STREAM_END_EVENT;
        yaml_event_delete(&event);
    }
    yaml_parser_delete(&parser);
}

} // namespace hestrel::bench
