#include "exchange/play_log.hpp"

#include "source/csv_reader.hpp"
#include "source/did_you_mean.hpp"
#include "source/quantities.hpp"
#include "source/utf8.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <optional>

namespace hestrel::exchange {

namespace {

using plan::Micros;
using verify::LogEvent;

constexpr double longest_play_s = 1e7; // as the times of a plan
constexpr std::size_t most_errors = 1'000;

/// The event that a word says, with what the plan's names are for the game's.
class Events {
public:
    Events(const NameMap& names, verify::Log& log) : names_(names), log_(log) {
        words_ = tables::all_event_words();
        words_.emplace_back("memory");
        words_.emplace_back("hitch");
    }

    /// Adds one; the message where it is wrong. What it says is not of ours: it is counted.
    std::string add(LogEvent event, const std::string& word) {
        const std::string& name = ours(word);
        event.subject = ours(event.subject);
        event.detail = ours(event.detail);
        event.player = ours(event.player);
        if (name == "memory" || name == "hitch") {
            event.figure = name == "memory" ? LogEvent::Figure::memory : LogEvent::Figure::hitch;
            if (name == "hitch") return put(std::move(event));
            const auto parsed = source::parse_memory(event.detail);
            if (const auto* wrong = std::get_if<std::string>(&parsed))
                return fmt::format("memory \"{}\" {}", event.detail, *wrong);
            event.memory = std::get<plan::Bytes>(parsed);
            return put(std::move(event));
        }
        if (const auto kind = tables::event_kind(name)) {
            event.kind = *kind;
            return put(std::move(event));
        }
        const auto capitals =
            std::find_if(words_.begin(), words_.end(), [&](std::string_view each) {
                return source::differs_only_in_capitals(name, each);
            });
        if (capitals != words_.end())
            return fmt::format("there is no event \"{}\"{}", name,
                               source::capitals_hint(*capitals));
        ++log_.others[name];
        return {};
    }

private:
    [[nodiscard]] const std::string& ours(const std::string& name) const {
        const auto found = names_.find(name);
        return found == names_.end() ? name : found->second;
    }
    std::string put(LogEvent event) {
        log_.events.push_back(std::move(event));
        return {};
    }

    const NameMap& names_;
    verify::Log& log_;
    std::vector<std::string_view> words_;
};

/// Messages as a compiler's, as long as there are not too many.
class Complaints {
public:
    Complaints(const std::string& path, std::vector<std::string>& errors)
        : path_(path), errors_(errors) {}
    void add(plan::Place place, const std::string& message) {
        if (errors_.size() < most_errors)
            errors_.push_back(
                fmt::format("{}:{}:{}: error: {}", path_, place.line, place.column, message));
    }
    [[nodiscard]] bool too_many() const { return errors_.size() >= most_errors; }

private:
    const std::string& path_;
    std::vector<std::string>& errors_;
};

/// The message where a time is none of a play.
std::optional<std::string> wrong_time(double seconds) {
    if (!std::isfinite(seconds)) return "is no time";
    if (std::abs(seconds) > longest_play_s)
        return fmt::format("is more than {:.0f} s", longest_play_s);
    return std::nullopt;
}

/// A table whose columns stand in any order.
class Columns {
public:
    /// Reads the header. `least`: so many of `names` have to be there.
    Columns(std::string_view csv, std::string_view what, std::span<const std::string_view> names,
            std::size_t least, Complaints& complaints)
        : csv_(csv), complaints_(complaints) {
        const std::vector<source::CsvCell> header = source::next_record(csv_, at_, place_);
        width_ = header.size();
        for (std::size_t i = 0; i < names.size(); ++i) {
            const auto found = std::find_if(header.begin(), header.end(), [&](const auto& cell) {
                return cell.text == names[i];
            });
            columns_.push_back(static_cast<std::size_t>(found - header.begin()));
            if (i >= least || found != header.end()) continue;
            fine_ = false;
            complaints_.add({0, 1, 1}, fmt::format("{} needs the column \"{}\"", what, names[i]));
        }
        for (const source::CsvCell& cell : header) {
            const std::string meant = source::hint(cell.text, names);
            if (std::find(names.begin(), names.end(), cell.text) != names.end() || meant.empty())
                continue;
            fine_ = false;
            complaints_.add(cell.place,
                            fmt::format("{} has no column \"{}\"{}", what, cell.text, meant));
        }
    }
    [[nodiscard]] bool fine() const { return fine_; }

    /// The next record; false at the end.
    bool next() {
        while (at_ < csv_.size() && !complaints_.too_many()) {
            line_ = place_;
            cells_ = source::next_record(csv_, at_, place_);
            if (cells_.size() == 1 && cells_.front().text.empty()) continue;
            if (cells_.size() == width_) return true;
            complaints_.add(line_,
                            fmt::format("{} fields under {} columns", cells_.size(), width_));
        }
        return false;
    }
    [[nodiscard]] plan::Place line() const { return line_; }
    /// Null where the column is not there.
    [[nodiscard]] const source::CsvCell* cell(std::size_t column) const {
        return columns_[column] < cells_.size() ? &cells_[columns_[column]] : nullptr;
    }
    [[nodiscard]] std::string text(std::size_t column) const {
        const source::CsvCell* found = cell(column);
        return found == nullptr ? std::string() : found->text;
    }

private:
    std::string_view csv_;
    Complaints& complaints_;
    std::size_t at_ = 0;
    plan::Place place_{0, 1, 1};
    plan::Place line_;
    std::vector<std::size_t> columns_; ///< by name
    std::size_t width_ = 0;
    std::vector<source::CsvCell> cells_;
    bool fine_ = true;
};

void read_csv(std::string_view csv, Events& events, Complaints& complaints) {
    constexpr std::array<std::string_view, 5> names{"time_s", "event", "subject", "detail",
                                                    "player"};
    enum : std::size_t { time, event, subject, detail, player };
    Columns columns(csv, "a log of a play", names, 2, complaints);
    if (!columns.fine()) return;
    while (columns.next()) {
        const source::CsvCell& written = *columns.cell(time);
        const auto parsed = source::parse_number(written.text);
        std::optional<std::string> wrong;
        if (const auto* why = std::get_if<std::string>(&parsed)) wrong = *why;
        if (!wrong) wrong = wrong_time(std::get<double>(parsed));
        if (wrong) {
            complaints.add(written.place, fmt::format("time_s \"{}\" {}", written.text, *wrong));
            continue;
        }
        LogEvent read;
        constexpr double micros_in_second = 1e6;
        read.at = Micros{std::llround(std::get<double>(parsed) * micros_in_second)};
        read.subject = columns.text(subject);
        read.detail = columns.text(detail);
        read.player = columns.text(player);
        read.place = columns.line();
        const std::string message = events.add(std::move(read), columns.text(event));
        if (!message.empty()) complaints.add(columns.cell(event)->place, message);
    }
}

// --- Trace Event JSON

/// Reads a text byte by byte, and knows where it is.
class Counting {
public:
    using iterator_category = std::input_iterator_tag;
    using value_type = char;
    using difference_type = std::ptrdiff_t;
    using pointer = const char*;
    using reference = const char&;

    struct Position {
        plan::Place place{0, 1, 1};
    };
    Counting(const char* at, Position* position) : at_(at), position_(position) {}
    reference operator*() const { return *at_; }
    Counting& operator++() {
        if (*at_++ == '\n') {
            ++position_->place.line;
            position_->place.column = 1;
        } else {
            ++position_->place.column;
        }
        return *this;
    }
    bool operator==(const Counting& other) const { return at_ == other.at_; }

private:
    const char* at_;
    Position* position_;
};

/// Takes events out of a trace as they come, and keeps nothing else of it.
class TraceReader final : public nlohmann::json_sax<nlohmann::json> {
public:
    TraceReader(Events& events, Complaints& complaints, const Counting::Position& position)
        : events_(events), complaints_(complaints), position_(position) {}

    bool null() override { return true; }
    bool boolean(bool value) override { return scalar(value ? "true" : "false"); }
    bool number_integer(number_integer_t value) override {
        return number(static_cast<double>(value), std::to_string(value));
    }
    bool number_unsigned(number_unsigned_t value) override {
        return number(static_cast<double>(value), std::to_string(value));
    }
    bool number_float(number_float_t value, const string_t& text) override {
        return number(value, text);
    }
    bool string(string_t& value) override { return scalar(value); }
    bool binary(binary_t& /*value*/) override { return true; }
    bool start_object(std::size_t /*size*/) override {
        const bool is_event = depth_ > 0 && depth_ == list_depth_;
        if (is_event) {
            event_depth_ = depth_ + 1;
            event_ = {};
            event_.place = position_.place;
            if (event_.place.column > 1) --event_.place.column; // the brace was read
            name_.clear();
            phase_.clear();
            time_.reset();
            wrong_.clear();
        }
        if (event_depth_ != 0 && depth_ == event_depth_ && key_ == "args") args_depth_ = depth_ + 1;
        ++depth_;
        return true;
    }
    bool key(string_t& value) override {
        key_ = value;
        return true;
    }
    bool end_object() override {
        if (depth_ == args_depth_) args_depth_ = 0;
        if (depth_ == event_depth_) {
            event_depth_ = 0;
            end_event();
        }
        --depth_;
        return !complaints_.too_many();
    }
    bool start_array(std::size_t /*size*/) override {
        const bool list = depth_ == 0 || (depth_ == 1 && key_ == "traceEvents");
        ++depth_;
        if (list && list_depth_ == 0) list_depth_ = depth_;
        return true;
    }
    bool end_array() override {
        if (depth_ == list_depth_) {
            list_depth_ = 0;
            had_list_ = true;
        }
        --depth_;
        return true;
    }
    bool parse_error(std::size_t /*position*/, const std::string& /*token*/,
                     const nlohmann::json::exception& /*why*/) override {
        complaints_.add(position_.place, "the trace is broken off, or is no JSON, here");
        return false;
    }
    [[nodiscard]] bool had_list() const { return had_list_; }

private:
    bool number(double value, const std::string& text) {
        if (event_depth_ != 0 && depth_ == event_depth_ && key_ == "ts") {
            constexpr double micros_in_second = 1e6;
            if (const auto wrong = wrong_time(value / micros_in_second))
                wrong_ = fmt::format("ts {} {}", text, *wrong);
            else
                time_ = Micros{std::llround(value)};
            return true;
        }
        return scalar(text);
    }
    bool scalar(const std::string& value) {
        if (event_depth_ == 0) return true;
        if (depth_ == event_depth_) {
            if (key_ == "name") name_ = value;
            if (key_ == "ph") phase_ = value;
        } else if (depth_ == args_depth_) {
            if (key_ == "subject") event_.subject = value;
            if (key_ == "detail") event_.detail = value;
            if (key_ == "player") event_.player = value;
            if (key_ == "MiB" && event_.detail.empty()) event_.detail = value;
        }
        return true;
    }
    /// Ends of stretches, flows and what names tracks tell of nothing that happens.
    void end_event() {
        constexpr std::array<std::string_view, 7> phases{"i", "I", "n", "X", "B", "b", "C"};
        if (std::find(phases.begin(), phases.end(), phase_) == phases.end()) return;
        if (phase_ == "C" && name_ != "memory") return;
        // What lasts is an event of a play only where it says of what.
        const bool lasts = phase_ == "X" || phase_ == "B" || phase_ == "b";
        if (lasts && event_.subject.empty()) return;
        if (!wrong_.empty() || !time_) {
            complaints_.add(event_.place, wrong_.empty() ? "an event without ts" : wrong_);
            return;
        }
        event_.at = *time_;
        const std::string message = events_.add(std::move(event_), name_);
        if (!message.empty()) complaints_.add(event_.place, message);
    }

    Events& events_;
    Complaints& complaints_;
    const Counting::Position& position_;
    std::size_t depth_ = 0;
    std::size_t list_depth_ = 0;  ///< of the list of events; 0: not in it
    std::size_t event_depth_ = 0; ///< of an event; 0: in none
    std::size_t args_depth_ = 0;
    bool had_list_ = false;
    std::string key_;
    LogEvent event_;
    std::string name_, phase_, wrong_;
    std::optional<Micros> time_;
};

/// Of a trace the events may stand in any order, on one clock.
void read_trace(std::string_view text, Events& events, Complaints& complaints, verify::Log& log) {
    Counting::Position position;
    TraceReader reader(events, complaints, position);
    const Counting begin(text.data(), &position);
    const Counting end(text.data() + text.size(), &position);
    if (nlohmann::json::sax_parse(begin, end, &reader) && !reader.had_list())
        complaints.add({0, 1, 1}, "a trace has a list of events, in \"traceEvents\" or by itself");
    std::stable_sort(log.events.begin(), log.events.end(),
                     [](const LogEvent& one, const LogEvent& other) { return one.at < other.at; });
}

} // namespace

ReadLog read_play_log(std::string_view text, const std::string& path, const NameMap& names) {
    ReadLog read;
    read.log.name = path;
    Events events(names, read.log);
    Complaints complaints(path, read.errors);
    text = source::without_byte_order_mark(text);
    const std::size_t first = text.find_first_not_of(" \t\r\n");
    if (first == std::string_view::npos)
        complaints.add({0, 1, 1}, "the log is empty");
    else if (text[first] == '{' || text[first] == '[')
        read_trace(text, events, complaints, read.log);
    else
        read_csv(text, events, complaints);
    if (read.errors.empty() && read.log.events.empty())
        complaints.add({0, 1, 1}, "nothing in the log is an event of a play");
    return read;
}

ReadNames read_name_map(std::string_view csv, const std::string& path) {
    ReadNames read;
    Complaints complaints(path, read.errors);
    constexpr std::array<std::string_view, 2> names{"game", "plan"};
    Columns columns(csv, "a map of names", names, 2, complaints);
    while (columns.fine() && columns.next()) {
        const auto [known, fresh] = read.names.emplace(columns.text(0), columns.text(1));
        if (!fresh && known->second != columns.text(1))
            complaints.add(columns.line(), fmt::format("\"{}\" stands for \"{}\" already",
                                                       known->first, known->second));
    }
    return read;
}

} // namespace hestrel::exchange
