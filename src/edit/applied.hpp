#pragma once
// Values put into the plan files themselves, comments and layout kept.

#include "edit/name_places.hpp"
#include "source/disk.hpp"
#include "source/overrides.hpp"
#include "source/source_text.hpp"
#include "source/yaml_tree.hpp"

#include <stdexcept>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::edit {

/// Why values can't be put into the files; the message is for the person who asked.
class ApplyError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/// The files that change, with their new text; none is written. Each has been read again and says
/// what it would with the values tried by `--set`. Throws ApplyError where a value is shared with
/// others by an anchor, or can't be put in place; FileError where a file can't be read.
std::vector<std::pair<std::string, std::string>>
applied(source::Disk& disk, const std::string& path, const std::vector<source::Override>& settings);

/// What puts a value at a path into a text, of which `tree` was made: what is there is replaced, a
/// new key or element is added at the end. A value of several lines, each further in than the key,
/// stays so where there is room. Throws ApplyError.
Replacement change_for(std::string_view text, const source::SourceText& lines,
                       const source::YamlTree& tree, const source::Override& setting);
/// One text with a value at a path, in the same way. Throws ApplyError.
std::string with_value(const std::string& text, const source::Override& setting);

} // namespace hestrel::edit
