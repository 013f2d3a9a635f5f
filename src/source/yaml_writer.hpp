#pragma once
// All YAML that the program writes: values on one line, and mappings and lists by indentation.

#include "source/json.hpp"
#include "source/yaml_tree.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace hestrel::source {

/// `{min: [0, 0, 0], max: [1, 1, 1]}`: reads as the same value again. Aliases and merge keys are
/// written out.
std::string flow_yaml(const Value& value);

/// A text as a scalar that reads as that text: quoted only where it must be.
std::string scalar_yaml(std::string_view text);

/// The same of a JSON value.
std::string flow_yaml(const Json& value);

/// `[a, b]`; each is YAML already.
std::string flow_list(const std::vector<std::string>& elements);

/// `{key: value, …}`, built up; values are YAML already.
class FlowMap {
public:
    FlowMap& add(std::string_view key, std::string_view value);
    [[nodiscard]] std::string text() const { return "{" + entries_ + "}"; }
    [[nodiscard]] bool empty() const { return entries_.empty(); }

private:
    std::string entries_;
};

/// Mappings and lists by indentation; values are YAML already, on one line.
class BlockYaml {
public:
    /// `# text`, at the margin.
    void comment(std::string_view text);
    void entry(std::string_view key, std::string_view value);
    void element(std::string_view value);
    /// `key:`, and what follows stands in it until `end`.
    void begin(std::string_view key);
    void end() { --depth_; }
    [[nodiscard]] const std::string& text() const { return text_; }

private:
    void line(std::string_view text);
    std::string text_;
    std::size_t depth_ = 0;
};

} // namespace hestrel::source
