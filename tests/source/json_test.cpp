// How JSON is written.

#include "source/json.hpp"

#include "support/printing.hpp"

using namespace hestrel;
using source::Json;

TEST_CASE("a file with a long list is the same, element by element or all at once") {
    const std::vector<Json> elements{{{"name", "quay"}, {"line", 3}},
                                     "a text with \"quotes\" and\na line break",
                                     {{"nested", {{"deeper", {1, 2, Json::object()}}}}},
                                     nullptr,
                                     Json::array(),
                                     "\xFF is no UTF-8"};
    for (std::size_t count = 0; count <= elements.size(); ++count) {
        const Json head{{"plan", "with [] in its name"}, {"empty", Json::array()}};
        Json whole = head;
        whole["all"] = Json::array();
        source::ListFile file(head, "all");
        for (std::size_t i = 0; i < count; ++i) {
            whole["all"].push_back(elements[i]);
            file.add(elements[i]);
        }
        CHECK(file.take() == source::single_file_text(whole));
    }
}
