#include "source/json.hpp"

namespace hestrel::source {

namespace {

/// Stops reading where it goes too deep; the readers themselves go down level by level, too.
class DepthLimit final : public Json::json_sax_t {
public:
    bool null() override { return true; }
    bool boolean(bool) override { return true; }
    bool number_integer(number_integer_t) override { return true; }
    bool number_unsigned(number_unsigned_t) override { return true; }
    bool number_float(number_float_t, const string_t&) override { return true; }
    bool string(string_t&) override { return true; }
    bool binary(binary_t&) override { return true; }
    bool key(string_t&) override { return true; }
    bool start_object(std::size_t) override { return down(); }
    bool end_object() override { return up(); }
    bool start_array(std::size_t) override { return down(); }
    bool end_array() override { return up(); }
    bool parse_error(std::size_t, const std::string&, const Json::exception&) override {
        return false;
    }

private:
    static constexpr int deepest = 150; // a plan nests no deeper than 100
    bool down() { return ++depth_ <= deepest; }
    bool up() {
        --depth_;
        return true;
    }

    int depth_ = 0;
};

} // namespace

Json parsed(const std::string& text, Json::input_format_t format) {
    DepthLimit limit;
    Json json(Json::value_t::discarded);
    if (Json::sax_parse(text, &limit, format))
        json = format == Json::input_format_t::json ? Json::parse(text, nullptr, false)
                                                    : Json::from_cbor(text, true, false);
    return json;
}

ListFile::ListFile(Json head, const std::string& list) {
    head[list] = Json::array();
    text_ = single_file_text(head);
    constexpr std::string_view nothing = "[]";
    const std::size_t at = text_.rfind(nothing);
    end_ = text_.substr(at + nothing.size());
    text_.resize(at);
}

void ListFile::add(const Json& element) {
    constexpr std::string_view line = "\n  ";
    text_ += any_ ? "," : "[";
    text_ += line;
    any_ = true;
    for (const char c : element.dump(1, ' ', false, Json::error_handler_t::replace)) {
        if (c == '\n')
            text_ += line;
        else
            text_ += c;
    }
}

std::string ListFile::take() {
    text_ += any_ ? "\n ]" : "[]";
    text_ += end_;
    return std::move(text_);
}

} // namespace hestrel::source
