#include "source/plan_keys.hpp"

#include "source/csv_reader.hpp"
#include "source/embedded.hpp"

#include <algorithm>
#include <array>
#include <deque>
#include <stdexcept>
#include <unordered_map>

namespace hestrel::source {

const std::vector<EmbeddedFile>& embedded_keys();

namespace {

/// What a key can take, by the name it has in the table, and what that is for people. In the order
/// of `Takes`.
struct Kind {
    std::string_view id;
    std::string_view text;
};
constexpr std::array kinds{
    Kind{"text", "text"},
    Kind{"text_list", "a list of texts"},
    Kind{"flag", "true or false"},
    Kind{"count", "a whole number"},
    Kind{"number", "a number"},
    Kind{"share", "a share: 0 to 1, or 0% to 100%"},
    Kind{"memory", "memory in MiB"},
    Kind{"memory_range", "memory in MiB, or a range low..high"},
    Kind{"time", "a time in s"},
    Kind{"time_range", "a time in s, or a range low..high"},
    Kind{"data_rate", "a data rate in MiB/s"},
    Kind{"speed", "a speed in m/s"},
    Kind{"distance", "a distance in m"},
    Kind{"point", "a point [x, y, z] in m"},
    Kind{"point_list", "a list of points"},
    Kind{"flat_point", "two coordinates [x, z] in m"},
    Kind{"length_or_flat", "a length in m, or two [x, z]"},
    Kind{"heights", "two coordinates [lowest, highest] in m"},
    Kind{"cell_list", "a list of [column, row]"},
    Kind{"name", "a name defined elsewhere"},
    Kind{"name_list", "names defined elsewhere: a list, or one"},
    Kind{"dotted_name", "two names with a dot between them"},
    Kind{"word", "one of a few words"},
    Kind{"word_list", "words of your choice: a list, or one"},
    Kind{"condition", "a condition"},
    Kind{"value", "true or false, a whole number, or a word"},
    Kind{"value_list", "a list of words"},
    Kind{"range", "two whole numbers [least, most]"},
    Kind{"object", "a mapping"},
    Kind{"objects", "a mapping, or a list of them"},
    Kind{"named", "a mapping from names of your choice"},
    Kind{"named_or_nothing", "a mapping from names of your choice"},
    Kind{"names_by_name", "a mapping from names of your choice to names defined elsewhere"},
    Kind{"memory_by_name", "a mapping from pools to memory in MiB"},
    Kind{"ranges_by_name", "a mapping from pools to memory in MiB, or ranges"},
    Kind{"speeds_by_name", "a mapping from names of your choice to speeds in m/s"},
    Kind{"values_by_name", "a mapping from facts to values"},
    Kind{"texts_by_name", "a mapping from names of findings to reasons"},
    Kind{"by_device", "a mapping from devices"},
    Kind{"parcels", "a list of {name: [levels]}"},
    Kind{"step_list", "a list of steps"},
    Kind{"steps_by_name", "a mapping from names of your choice to lists of steps"},
    Kind{"route_steps", "a list of route steps"},
    Kind{"points_by_name",
         "a mapping from names of your choice to points [x, y, z] in m, or mappings"},
    Kind{"paths", "a list of lists of two or more waypoints, or of mappings"},
    Kind{"time_or_object", "a time in s, or a mapping"},
    Kind{"level_or_position", "a level, or {position: number}"},
    Kind{"condition_or_object", "a condition, or a mapping"},
    Kind{"word_or_names", "one of a few words, or names defined elsewhere"},
    Kind{"levels", "levels by name, or [by a fact](#levels-by-a-fact): a list, or one"},
    Kind{"list_use", "the name of a list, or {list: {what it takes: value}}"},
    Kind{"kinds_by_name", "a mapping from names of your choice to one of a few words"},
    Kind{"word_or_object", "one of a few words, or a mapping"},
    Kind{"groups", "a mapping from names of your choice to lists of levels, or mappings"},
};
static_assert(kinds.size() == static_cast<std::size_t>(Takes::groups) + 1);

/// docs/plan-keys.csv, read once: a row for each key, in the order of docs/plan-format.md.
class Table {
public:
    Table() {
        const std::string& text = embedded_keys().front().text;
        plan::Place place{0, 1, 1};
        std::size_t at = 0;
        next_record(text, at, place); // the header
        while (at < text.size()) rows_.push_back(next_record(text, at, place));
        for (const Row& row : rows_) {
            if (objects_.empty() || objects_.back().id != row[object].text) {
                objects_.push_back({row[object].text, row[called].text, {}});
                keys_.emplace_back();
            }
            keys_.back().push_back(key_of(row));
        }
        for (std::size_t i = 0; i < objects_.size(); ++i) {
            objects_[i].keys = keys_[i];
            all_.push_back(&objects_[i]);
            by_id_[objects_[i].id] = &objects_[i];
        }
        std::size_t row = 0;
        for (auto& of_object : keys_) {
            for (Key& each : of_object) {
                const std::string& name = rows_[row++][inner].text;
                if (!name.empty()) each.inner = &find(name);
            }
        }
    }

    [[nodiscard]] const ObjectKeys& find(std::string_view id) const {
        const auto found = by_id_.find(id);
        if (found == by_id_.end())
            throw std::logic_error("docs/plan-keys.csv has no object " + std::string(id));
        return *found->second;
    }
    [[nodiscard]] const std::vector<const ObjectKeys*>& all() const { return all_; }

private:
    using Row = std::vector<CsvCell>;
    enum Column : std::uint8_t {
        object,
        called,
        key_name,
        takes,
        fallback,
        meaning,
        example,
        inner,
        words,
        beside,
        names
    };

    Key key_of(const Row& row) {
        const auto kind = std::find_if(kinds.begin(), kinds.end(), [&](const Kind& each) {
            return each.id == row[takes].text;
        });
        if (kind == kinds.end())
            throw std::logic_error("docs/plan-keys.csv: no key takes " + row[takes].text);
        Key key;
        key.name = row[key_name].text;
        key.takes = static_cast<Takes>(kind - kinds.begin());
        key.required = row[fallback].text == "required";
        if (!key.required) key.fallback = row[fallback].text;
        key.sentence = row[meaning].text;
        key.example = row[example].text;
        key.words = words_in(row[words].text);
        key.beside = row[beside].text == "yes";
        key.names = words_in(row[names].text);
        return key;
    }
    std::span<const std::string_view> words_in(std::string_view text) {
        std::vector<std::string_view>& split = words_.emplace_back();
        while (!text.empty()) {
            const std::size_t end = std::min(text.find(' '), text.size());
            split.push_back(text.substr(0, end));
            text.remove_prefix(std::min(end + 1, text.size()));
        }
        return split;
    }

    std::deque<Row> rows_; ///< what keys point into
    std::deque<std::vector<std::string_view>> words_;
    std::deque<std::vector<Key>> keys_; ///< by object
    std::deque<ObjectKeys> objects_;
    std::vector<const ObjectKeys*> all_;
    std::unordered_map<std::string_view, const ObjectKeys*> by_id_;
};

const Table& table() {
    static const Table read;
    return read;
}

} // namespace

std::string_view kind_text(Takes takes) {
    return kinds.at(static_cast<std::size_t>(takes)).text;
}

namespace keys {

const ObjectKeys& object(std::string_view id) {
    return table().find(id);
}

std::span<const ObjectKeys* const> all() {
    return table().all();
}

} // namespace keys

} // namespace hestrel::source
