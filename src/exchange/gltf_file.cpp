#include "exchange/gltf_file.hpp"

#include "source/json.hpp"

#include <array>
#include <cstdint>
#include <cstring>
#include <exception>
#include <filesystem>
#include <fmt/format.h>
#include <string_view>

namespace hestrel::exchange {

namespace {

using source::Json;

constexpr std::size_t glb_head = 12;  ///< magic, version, length
constexpr std::size_t chunk_head = 8; ///< length, kind
constexpr std::uint32_t json_chunk = 0x4E4F534A;

[[noreturn]] void refuse(const std::string& path, const std::string& why) {
    throw GltfError(fmt::format("{}: error: {}", path, why));
}

std::uint32_t number_at(std::string_view bytes, std::size_t at) {
    std::uint32_t number = 0;
    for (std::size_t i = 0; i < sizeof number; ++i)
        number |= std::uint32_t{static_cast<unsigned char>(bytes[at + i])} << (8 * i);
    return number;
}
void add_number(std::string& bytes, std::size_t number) {
    for (int i = 0; i < 4; ++i) bytes += static_cast<char>(number >> (8 * i) & 0xFFU);
}

bool is_binary(std::string_view bytes) {
    return bytes.starts_with("glTF");
}

/// Where a binary file's JSON stands in it.
std::string_view json_of(std::string_view bytes, const std::string& path) {
    if (!is_binary(bytes)) return bytes;
    if (bytes.size() < glb_head + chunk_head) refuse(path, "the file is cut off in its head");
    const std::uint32_t version = number_at(bytes, 4);
    if (version != 2) refuse(path, fmt::format("this is version {} of glTF, not 2", version));
    if (number_at(bytes, 8) > bytes.size())
        refuse(path, fmt::format("the file is cut off: it has {} of {} bytes", bytes.size(),
                                 number_at(bytes, 8)));
    const std::uint32_t length = number_at(bytes, glb_head);
    if (number_at(bytes, glb_head + 4) != json_chunk ||
        length > bytes.size() - glb_head - chunk_head)
        refuse(path, "its first part is no JSON, or cut off");
    return bytes.substr(glb_head + chunk_head, length);
}

/// The place of a byte, `line:column`.
std::string place_of(std::string_view text, std::size_t byte) {
    const std::string_view before = text.substr(0, std::min(byte, text.size()));
    const auto line = std::count(before.begin(), before.end(), '\n') + 1;
    const std::size_t start = before.rfind('\n') + 1; // npos + 1 is 0
    return fmt::format("{}:{}", line, before.size() - start + 1);
}

Json parsed(std::string_view text, const std::string& path) {
    Json json = source::parsed(std::string(text));
    if (!json.is_discarded()) {
        if (!json.is_object()) refuse(path + ":1:1", "this is no glTF: no object of JSON");
        return json;
    }
    try {
        const Json again = Json::parse(text);
    } catch (const Json::parse_error& error) {
        const std::size_t byte = error.byte == 0 ? 0 : error.byte - 1;
        refuse(path + ":" + place_of(text, byte),
               byte >= text.size() ? "the file is cut off here"
                                   : "this is no JSON: something else is expected here");
    } catch (const Json::exception&) {
        refuse(path, "it has a number that is too large");
    }
    refuse(path, "it nests too deep");
}

/// The version, and where its buffers are: in it, or beside it.
void check_head(const Json& json, const std::string& path) {
    const auto asset = json.find("asset");
    const bool says = asset != json.end() && asset->is_object() && asset->contains("version") &&
                      (*asset)["version"].is_string();
    if (!says) refuse(path, "this is no glTF: it does not say which version");
    const std::string version = (*asset)["version"];
    if (!version.starts_with("2."))
        refuse(path, fmt::format("this is version {} of glTF, not 2", version));
    const auto buffers = json.find("buffers");
    if (buffers == json.end() || !buffers->is_array()) return;
    for (const Json& buffer : *buffers) {
        const auto uri = buffer.find("uri");
        if (!buffer.is_object() || uri == buffer.end() || !uri->is_string()) continue;
        const std::string where = *uri;
        const bool elsewhere = where.starts_with('/') || where.find(':') != std::string::npos;
        if (elsewhere && !where.starts_with("data:"))
            refuse(path, fmt::format("it wants to read {}, which is outside of its folder", where));
    }
}

/// What nobody here asks for is not even parsed: images would be opened.
std::string without_rest(const Json& json) {
    Json kept = Json::object();
    for (const char* part :
         {"asset", "scene", "scenes", "nodes", "meshes", "accessors", "bufferViews", "buffers"}) {
        if (const auto found = json.find(part); found != json.end()) kept[part] = *found;
    }
    return kept.dump(-1, ' ', false, Json::error_handler_t::replace);
}

/// The same binary file with other JSON.
std::string binary_with(std::string_view bytes, std::string_view old_json, std::string json) {
    while (json.size() % 4 != 0) json += ' ';
    const std::string_view rest =
        bytes.substr(std::min(glb_head + chunk_head + old_json.size(), bytes.size()));
    std::string binary = "glTF";
    add_number(binary, 2);
    add_number(binary, glb_head + chunk_head + json.size() + rest.size());
    add_number(binary, json.size());
    add_number(binary, json_chunk);
    return binary + json + std::string(rest);
}

/// Buffers beside the file, and nothing else.
struct Beside {
    source::Disk& disk;
    std::filesystem::path folder;
    std::string problem; ///< the first

    /// Throws FileError.
    std::string read(const std::string& path) const {
        if (!source::lies_below(source::whole(folder), source::whole(path)))
            throw source::FileError(
                fmt::format("it wants to read {}, which is outside of its folder", path));
        return disk.read(path);
    }
};

bool exists(const std::string&, void*) {
    return true; // whoever reads it says that it is not
}
std::string as_it_is(const std::string& path, void*) {
    return path;
}
bool read_whole(std::vector<unsigned char>* into, std::string* error, const std::string& path,
                void* of) {
    Beside& beside = *static_cast<Beside*>(of);
    try {
        const std::string text = beside.read(path);
        into->assign(text.begin(), text.end());
        return true;
    } catch (const std::exception& problem) {
        if (beside.problem.empty()) beside.problem = problem.what();
        if (error != nullptr) *error += problem.what();
        return false;
    }
}
bool write_nothing(std::string*, const std::string&, const std::vector<unsigned char>&, void*) {
    return false;
}
bool load_no_image(tinygltf::Image*, const int, std::string*, std::string*, int, int,
                   const unsigned char*, int, void*) {
    return true;
}

/// The first line of what tinygltf says, without its full stop.
std::string first_line(std::string text) {
    text.erase(std::min(text.find('\n'), text.size()));
    if (text.ends_with('.')) text.pop_back();
    return text.empty() ? "this is no glTF" : text;
}

} // namespace

tinygltf::Model load_gltf(source::Disk& disk, const std::string& path) {
    const std::string bytes = disk.read(path);
    const std::string_view text = json_of(bytes, path);
    const Json json = parsed(text, path);
    check_head(json, path);
    const std::string kept = without_rest(json);
    const std::filesystem::path parent = std::filesystem::path(path).parent_path();
    Beside beside{disk, parent.empty() ? std::filesystem::path(".") : parent, {}};

    tinygltf::TinyGLTF loader;
    loader.SetFsCallbacks({&exists, &as_it_is, &read_whole, &write_nothing, &beside});
    loader.SetImageLoader(&load_no_image, nullptr);
    tinygltf::Model model;
    std::string error;
    std::string warning;
    bool loaded = false;
    try {
        if (is_binary(bytes)) {
            const std::string binary = binary_with(bytes, text, kept);
            loaded = loader.LoadBinaryFromMemory(
                &model, &error, &warning,
                reinterpret_cast<const unsigned char*>(binary.data()), // chars as bytes
                static_cast<unsigned>(binary.size()), beside.folder.string());
        } else {
            loaded = loader.LoadASCIIFromString(&model, &error, &warning, kept.data(),
                                                static_cast<unsigned>(kept.size()),
                                                beside.folder.string());
        }
    } catch (const std::bad_alloc&) {
        throw;
    } catch (const std::exception& problem) { // of a value of another type than it expects
        error = problem.what();
    }
    if (!beside.problem.empty()) refuse(path, beside.problem);
    if (!loaded) refuse(path, first_line(error));
    return model;
}

} // namespace hestrel::exchange
