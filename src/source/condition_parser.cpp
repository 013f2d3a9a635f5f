#include "source/condition_parser.hpp"

#include <algorithm>
#include <array>
#include <cstdint>
#include <functional>
#include <initializer_list>
#include <optional>
#include <set>

namespace hestrel::source {

using plan::Operation;
using plan::ValueKind;

namespace {

constexpr std::size_t deepest_brackets = 100;
constexpr std::array<std::pair<std::string_view, Operation>, 6> comparisons{
    {{"==", Operation::equal},
     {"!=", Operation::not_equal},
     {"<=", Operation::at_most},
     {">=", Operation::at_least},
     {"<", Operation::less},
     {">", Operation::more}}};
constexpr std::array<std::pair<std::string_view, Operation>, 7> calls{
    {{"shown", Operation::shown},
     {"ready", Operation::ready},
     {"delivered", Operation::delivered},
     {"at", Operation::at},
     {"inside", Operation::inside},
     {"open", Operation::open},
     {"queued", Operation::queued}}};

/// What stopped the parsing: a message, and where in the text.
struct Mistake {
    std::size_t at;
    std::string name;
    std::string message;
};

bool of_a_name(char c) {
    return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_' ||
           c == '-' || c == '.' || c == '$';
}

std::string_view kind_name(ValueKind kind) {
    static constexpr std::array<std::string_view, 3> names{"true or false", "a number", "a word"};
    return names.at(static_cast<std::size_t>(kind));
}

/// A recursive-descent parser over one text. Each function leaves its term last in `terms_`.
class ConditionParser {
public:
    ConditionParser(ReadContext& reading, const ConditionNames& names, std::string_view text,
                    plan::Place place, std::size_t offset, Asker asker)
        : reading_(reading), names_(names), text_(text), place_(place), offset_(offset),
          asker_(asker) {
        constexpr std::size_t least_written = 4; // characters of a term, mostly
        terms_.reserve(text.size() / least_written + 1);
        advance();
    }

    std::vector<plan::Term> parse() {
        const std::size_t start = token_at_;
        require_flag(either(), start);
        if (!token_.empty()) fail(token_at_, fmt::format("\"{}\" is not expected here", token_));
        return std::move(terms_);
    }
    /// Notes the names that stand in it, which is a condition.
    void mention_all() const {
        for (const auto& mention : mentions_) mention();
    }

private:
    [[noreturn]] static void fail(std::size_t at, std::string message,
                                  std::string name = "wrong-value") {
        throw Mistake{at, std::move(name), std::move(message)};
    }

    /// Takes the next token: a name or number, a comparison, a parenthesis; empty at the end.
    void advance() {
        last_end_ = token_at_ + token_.size();
        while (next_ < text_.size() &&
               (text_[next_] == ' ' || text_[next_] == '\t' || text_[next_] == '\n'))
            ++next_;
        token_at_ = next_;
        if (next_ == text_.size()) {
            token_ = {};
            return;
        }
        std::size_t end = next_;
        while (end < text_.size() && of_a_name(text_[end])) ++end;
        if (end == next_) {
            const std::string_view rest = text_.substr(next_);
            const auto found =
                std::find_if(comparisons.begin(), comparisons.end(),
                             [&](const auto& each) { return rest.starts_with(each.first); });
            end += found != comparisons.end() ? found->first.size() : 1;
        }
        token_ = text_.substr(next_, end - next_);
        next_ = end;
    }

    /// A term whose text begins at `start` and ends behind the last token taken; messages about it
    /// name `at`.
    std::uint32_t add(plan::Term term, std::size_t at, std::size_t start) {
        term.place = place_;
        term.place.column += static_cast<std::uint32_t>(at + offset_);
        term.text_from = static_cast<std::uint32_t>(start);
        term.text_to = static_cast<std::uint32_t>(last_end_);
        terms_.push_back(term);
        return static_cast<std::uint32_t>(terms_.size() - 1);
    }
    std::uint32_t add(Operation operation, std::size_t at, std::size_t start, std::uint32_t left,
                      std::uint32_t right) {
        plan::Term term;
        term.operation = operation;
        term.left = left;
        term.right = right;
        return add(term, at, start);
    }

    /// Nothing where it can be any: of what a named list takes.
    [[nodiscard]] std::optional<ValueKind> kind_of(std::uint32_t index) const {
        const plan::Term& term = terms_[index];
        if (any_kind_.contains(index)) return std::nullopt;
        switch (term.operation) {
        case Operation::value: return term.value.kind;
        case Operation::fact: return names_.plan.facts[term.fact].initial.kind;
        case Operation::speed:
        case Operation::memory: return ValueKind::number;
        default: return ValueKind::flag;
        }
    }
    void require_flag(std::uint32_t index, std::size_t at) const {
        const auto kind = kind_of(index);
        if (kind && *kind != ValueKind::flag)
            fail(at, fmt::format("expected something true or false, found {}", kind_name(*kind)));
    }

    std::uint32_t joined(std::string_view word, Operation operation,
                         std::uint32_t (ConditionParser::*part)()) {
        const std::size_t start = token_at_;
        std::uint32_t left = (this->*part)();
        while (token_ == word) {
            require_flag(left, start);
            const std::size_t at = token_at_;
            advance();
            const std::size_t right_at = token_at_;
            const std::uint32_t right = (this->*part)();
            require_flag(right, right_at);
            left = add(operation, at, start, left, right);
        }
        return left;
    }
    std::uint32_t either() { return joined("or", Operation::either, &ConditionParser::both); }
    std::uint32_t both() { return joined("and", Operation::both, &ConditionParser::negation); }

    std::uint32_t negation() {
        if (token_ != "not") return comparison();
        if (++depth_ > deepest_brackets) fail(token_at_, "nested too deeply");
        const std::size_t at = token_at_;
        advance();
        const std::size_t part_at = token_at_;
        const std::uint32_t part = negation();
        require_flag(part, part_at);
        --depth_;
        return add(Operation::negation, at, at, part, 0);
    }

    std::uint32_t comparison() {
        const std::size_t start = token_at_;
        const std::uint32_t left = operand();
        const auto found = std::find_if(comparisons.begin(), comparisons.end(),
                                        [&](const auto& each) { return each.first == token_; });
        if (found == comparisons.end()) return left;
        const std::size_t at = token_at_;
        advance();
        const std::uint32_t right = operand();
        check_comparable(found->second, left, right, at);
        return add(found->second, at, start, left, right);
    }

    void check_comparable(Operation operation, std::uint32_t left, std::uint32_t right,
                          std::size_t at) const {
        const auto left_kind = kind_of(left);
        const auto right_kind = kind_of(right);
        if (!left_kind || !right_kind) return;
        const ValueKind kind = *left_kind;
        if (kind != *right_kind) {
            fail(at, fmt::format("{} can't be compared with {}", kind_name(kind),
                                 kind_name(*right_kind)));
        }
        const bool ordered = operation != Operation::equal && operation != Operation::not_equal;
        if (ordered && kind != ValueKind::number)
            fail(at, fmt::format("{} can't be compared by size; use == or !=", kind_name(kind)));
        for (const auto& [fact, other] : {std::pair{left, right}, std::pair{right, left}}) {
            const bool word_of_fact = kind == ValueKind::word &&
                                      terms_[fact].operation == Operation::fact &&
                                      terms_[other].operation == Operation::value;
            if (!word_of_fact) continue;
            const plan::Fact& named = names_.plan.facts[terms_[fact].fact];
            const plan::WordId word = terms_[other].value.word;
            if (std::find(named.values.begin(), named.values.end(), word) != named.values.end())
                continue;
            std::vector<std::string_view> known;
            for (const plan::WordId each : named.values) known.push_back(names_.plan.words[each]);
            const std::string& wrong = names_.plan.words[word];
            fail(
                at,
                fmt::format("{} is never \"{}\"{}", named.name, wrong, reading_.hint(wrong, known)),
                "unknown-name");
        }
    }

    std::uint32_t operand() {
        const std::size_t at = token_at_;
        if (token_ == "(") {
            if (++depth_ > deepest_brackets) fail(at, "nested too deeply");
            advance();
            const std::uint32_t inner = either();
            if (token_ != ")") fail(token_at_, "a closing parenthesis is missing");
            advance();
            --depth_;
            return inner;
        }
        if (token_.empty() || !of_a_name(token_.front())) {
            fail(at, token_.empty() ? "the condition ends too early"
                                    : fmt::format("\"{}\" is not expected here", token_));
        }
        const std::string_view word = token_;
        advance();
        if (word == "and" || word == "or" || word == "not")
            fail(at, fmt::format("\"{}\" is not expected here", word));
        const auto call = std::find_if(calls.begin(), calls.end(),
                                       [&](const auto& each) { return each.first == word; });
        if (call != calls.end() && token_ == "(") {
            if (call->second == Operation::queued) only_routes_ask("what is queued", at);
            return called(call->second, at);
        }
        return single(word, at);
    }

    void only_routes_ask(std::string_view what, std::size_t at) const {
        if (asker_ == Asker::route) return;
        fail(at, fmt::format("only a route may ask for {}: it hangs on time and device", what));
    }

    std::uint32_t called(Operation operation, std::size_t at) {
        advance();
        plan::Term term;
        term.operation = operation;
        switch (operation) {
        case Operation::at: name_one(names_.waypoints, term.waypoint); break;
        case Operation::open: name_one(names_.menus, term.menu); break;
        case Operation::inside: name_space(term); break;
        default: name_levels(term);
        }
        advance();
        if (token_ != ")") fail(token_at_, "a closing parenthesis is missing");
        advance();
        return add(term, at, at);
    }

    template <class Id>
    void name_one(const Names<Id>& names, Id& id) {
        const auto found = names.look_up(token_);
        if (!found && is_parameter(token_, token_at_, {parameter_kind_of(names.kind())})) return;
        if (!found) {
            fail(token_at_,
                 fmt::format("no {} is called \"{}\"{}", names.kind(), token_,
                             reading_.hint(token_, names)),
                 "unknown-name");
        }
        id = found.id;
        mention(names, found, token_, token_at_);
    }
    /// A level, or a group of levels.
    void name_levels(plan::Term& term) {
        if (names_.groups.find(token_)) return name_one(names_.groups, term.group);
        name_one(names_.levels, term.level);
    }
    static plan::ParameterKind parameter_kind_of(std::string_view kind) {
        if (kind == "waypoint") return plan::ParameterKind::waypoint;
        return kind == "menu" ? plan::ParameterKind::menu : plan::ParameterKind::level;
    }
    /// What the named list takes whose steps are read.
    bool is_parameter(std::string_view token, std::size_t at,
                      std::initializer_list<plan::ParameterKind> wanted) {
        if (!reading_.is_parameter(token)) return false;
        if (auto problem = reading_.parameter_problem(token, wanted))
            fail(at, std::move(problem->message), std::string(problem->finding));
        if (reading_.notes_mentions())
            mentions_.emplace_back([this, token, at] {
                reading_.mention_parameter(token, {place_, text_, at});
            });
        return true;
    }
    template <class Id>
    void mention(const Names<Id>& names, const typename Names<Id>::Found& found,
                 std::string_view name, std::size_t at) {
        if (!reading_.notes_mentions()) return;
        mentions_.emplace_back([this, &names, found, name, at] {
            reading_.mention_found(names, name, found, {place_, text_, at});
        });
    }
    /// What a player can be inside of: a trigger's shape, or a level's area.
    void name_space(plan::Term& term) {
        const bool both = names_.triggers.find(token_) && names_.levels.find(token_);
        if (both) {
            fail(token_at_,
                 fmt::format("\"{}\" is a trigger and a level; rename one of them", token_));
        }
        if (is_parameter(token_, token_at_, {plan::ParameterKind::level})) return;
        if (names_.triggers.find(token_)) return name_one(names_.triggers, term.trigger);
        if (names_.levels.find(token_)) return name_one(names_.levels, term.level);
        fail(token_at_,
             fmt::format("no trigger or level is called \"{}\"{}", token_,
                         reading_.hint(token_, names_.triggers, names_.levels)),
             "unknown-name");
    }

    std::uint32_t single(std::string_view word, std::size_t at) {
        plan::Term term;
        const Parsed<double> number = parse_number(word);
        if (is_parameter(word, at, {plan::ParameterKind::fact, plan::ParameterKind::value})) {
            any_kind_.insert(static_cast<std::uint32_t>(terms_.size()));
        } else if (word == "true" || word == "false") {
            term.value = {ValueKind::flag, word == "true" ? 1.0 : 0.0, {}};
        } else if (word == "speed") {
            term.operation = Operation::speed;
        } else if (word == "veiled") {
            term.operation = Operation::veiled;
        } else if (word == "frozen") {
            term.operation = Operation::frozen;
        } else if (const auto fact = names_.facts.look_up(word)) {
            term.operation = Operation::fact;
            term.fact = fact.id;
            term.of_each = names_.plan.facts[fact.id].of_each;
            mention(names_.facts, fact, word, at);
        } else if (const auto value = names_.words.look_up(word)) {
            term.value = {ValueKind::word, 0, value.id};
            mention(names_.words, value, word, at);
        } else if (word == "memory") {
            only_routes_ask("memory", at);
            term.operation = Operation::memory;
        } else if (std::holds_alternative<double>(number)) {
            term.value = {ValueKind::number, std::get<double>(number), {}};
        } else {
            fail(at,
                 fmt::format("no fact, and no fact's value, is called \"{}\"{}", word,
                             reading_.hint(word, names_.facts)),
                 "unknown-name");
        }
        return add(term, at, at);
    }

    ReadContext& reading_;
    const ConditionNames& names_;
    std::string_view text_;
    plan::Place place_;
    std::size_t offset_; ///< columns before the text: 1 behind a quote
    Asker asker_;
    std::size_t next_ = 0;
    std::string_view token_;
    std::size_t token_at_ = 0;
    std::size_t last_end_ = 0; ///< behind the token before it
    std::size_t depth_ = 0;
    std::vector<plan::Term> terms_;
    std::set<std::uint32_t> any_kind_;            ///< of these, what a named list takes
    std::vector<std::function<void()>> mentions_; ///< what `mention_all` does
};

} // namespace

std::optional<plan::Condition> parse_condition(ReadContext& reading, const ConditionNames& names,
                                               const Value& value, Asker asker) {
    if (!value) return std::nullopt;
    if (!value.is_scalar() || value.is_null()) {
        reading.wrong_value(value,
                            fmt::format("expected a condition, found {}", value.description()));
        return std::nullopt;
    }
    const std::size_t offset = value.is_plain() ? 0 : 1;
    try {
        ConditionParser parser(reading, names, value.text(), value.place(), offset, asker);
        plan::Condition condition{value.place(), std::string(value.text()), parser.parse()};
        parser.mention_all();
        return condition;
    } catch (const Mistake& mistake) {
        plan::Place place = value.place();
        place.column += static_cast<std::uint32_t>(mistake.at + offset);
        reading.error(mistake.name, place, fmt::format("in this condition {}", mistake.message));
        return std::nullopt;
    }
}

} // namespace hestrel::source
