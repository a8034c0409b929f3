// SPDX-License-Identifier: Apache-2.0
#include "io/document.h"

#include "io/pictures.h"
#include "io/reader.h"
#include "io/writer.h"
#include "scene/assemblies.h"
#include "scene/kits.h"
#include "scene/templates.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <set>
#include <sys/stat.h>
#include <unistd.h>

namespace snare::io {

namespace {

constexpr int newestVersion = 1;

/// The text of a list of ids must be ids, not reserved, and each there once.
class IdCheck {
  public:
    IdCheck(Reader& reader, const Node& root) : reader_(reader), root_(root) {}

    void check(std::string_view list)
    {
        const Node* node = root_.find(list);
        if (!node || !node->elements())
            return;
        for (std::size_t i = 0; i < node->elements()->size(); ++i) {
            const Node* id = (*node->elements())[i].find("id");
            if (!id || !id->text())
                continue;
            const Reader::Step first{reader_, list};
            const Reader::Step second{reader_, std::to_string(i)};
            const Reader::Step third{reader_, "id"};
            checkOne(*id, seen_);
        }
    }

    void checkOne(const Node& id, std::set<std::string, std::less<>>& seen)
    {
        if (!scene::isId(*id.text()))
            reader_.fail(id, fmt::format("\"{}\" is no id: letters, digits, - and _ only", *id.text()));
        else if (scene::isReserved(*id.text()))
            reader_.fail(id, fmt::format("\"{}\" stands for something else and cannot be an id", *id.text()));
        else if (!seen.insert(*id.text()).second)
            reader_.fail(id, fmt::format("the id \"{}\" is there already", *id.text()));
    }

  private:
    Reader& reader_;
    const Node& root_;
    std::set<std::string, std::less<>> seen_;
};

void checkIds(Reader& reader, const Node& root)
{
    IdCheck things{reader, root};
    things.check("pieces");
    things.check("sources");
    IdCheck{reader, root}.check("snares");
    const Node* pieces = root.find("pieces");
    if (!pieces || !pieces->elements())
        return;
    for (std::size_t i = 0; i < pieces->elements()->size(); ++i) {
        const Node* shapes = (*pieces->elements())[i].find("shapes");
        if (!shapes || !shapes->elements())
            continue;
        std::set<std::string, std::less<>> seen;
        for (std::size_t j = 0; j < shapes->elements()->size(); ++j) {
            const Node* id = (*shapes->elements())[j].find("id");
            if (!id || !id->text())
                continue;
            const Reader::Step a{reader, "pieces"};
            const Reader::Step b{reader, std::to_string(i)};
            const Reader::Step c{reader, "shapes"};
            const Reader::Step d{reader, std::to_string(j)};
            const Reader::Step e{reader, "id"};
            things.checkOne(*id, seen);
        }
    }
}

/// Parts of an assembly have names of their own, and its snares a place where they need one (A2).
template <class T> void checkAssemblies(Reader& reader, const Node& root, const T& document)
{
    const Node* list = root.find("assemblies");
    if (!list || !list->members())
        return;
    const Reader::Step step{reader, "assemblies"};
    for (const auto& [name, node] : *list->members()) {
        const Reader::Step at{reader, name};
        IdCheck{reader, node}.check("pieces");
        IdCheck{reader, node}.check("snares");
        const scene::Assembly* assembly = document.assemblies.find(name);
        const auto fault = assembly ? scene::faultOf(*assembly) : std::nullopt;
        const Node* snares = node.find("snares");
        if (!fault || !snares || !snares->elements() || fault->first >= snares->elements()->size())
            continue;
        const Reader::Step within{reader, "snares"};
        const Reader::Step one{reader, std::to_string(fault->first)};
        reader.fail((*snares->elements())[fault->first], fault->second);
    }
}

/// No variable or property may hide a built-in value: it could be read, but never set.
void checkNames(Reader& reader, const Node& owner, std::string_view list, bool (*isBuiltIn)(std::string_view),
                std::string_view whose)
{
    const Node* values = owner.find(list);
    if (!values || !values->members())
        return;
    const Reader::Step step{reader, list};
    for (const auto& [name, value] : *values->members())
        if (isBuiltIn(name)) {
            const Reader::Step at{reader, name};
            reader.fail(value,
                        fmt::format("\"{}\" is a built-in value of {}: call this one by another name", name, whose));
        }
}

void checkProperties(Reader& reader, const Node& root)
{
    const auto checkPiece = [&](const Node& piece) {
        checkNames(reader, piece, "properties", scene::isBuiltInOfPiece, "every piece");
    };
    checkNames(reader, root, "variables", scene::isBuiltInOfScene, "the scene");
    if (const Node* pieces = root.find("pieces"); pieces && pieces->elements())
        for (std::size_t i = 0; i < pieces->elements()->size(); ++i) {
            const Reader::Step list{reader, "pieces"};
            const Reader::Step at{reader, std::to_string(i)};
            checkPiece((*pieces->elements())[i]);
        }
    if (const Node* templates = root.find("templates"); templates && templates->members())
        for (const auto& [name, form] : *templates->members()) {
            const Reader::Step list{reader, "templates"};
            const Reader::Step at{reader, name};
            checkPiece(form);
        }
}

/// `format` and `version`, before anything else is looked at.
bool readEnvelope(Reader& reader, const Node& root, std::string_view format)
{
    if (!root.members())
        return reader.wanted(root, "an object");
    const Node* name = root.find("format");
    if (!name || !name->text() || *name->text() != format) {
        reader.fail(name ? *name : root, fmt::format("\"format\" must be \"{}\"", format));
        return false;
    }
    const Node* version = root.find("version");
    if (!version || !version->number() || *version->number() < 1) {
        reader.fail(version ? *version : root, "\"version\" must be 1");
        return false;
    }
    if (*version->number() > newestVersion) {
        reader.fail(*version, fmt::format("this file has version {:.9g}; this program reads up to version {}",
                                          *version->number(), newestVersion));
        return false;
    }
    return true;
}

/// The kits that a scene's text names, so that its pieces can be read over their templates.
scene::LoadedKits findKits(const Node& root, const KitFinder& find)
{
    const Node* names = root.find("kits");
    if (!find || !names || !names->elements())
        return {};
    auto list = std::make_shared<std::vector<scene::LoadedKit>>();
    for (const Node& name : *names->elements())
        if (name.text())
            list->push_back(find(*name.text()));
    return {std::move(list)};
}

template <class T>
tl::expected<T, Problems> readDocument(std::string_view text, const std::string& file, std::string_view format,
                                       const KitFinder& kits = {})
{
    const auto root = parseJson(text, file);
    if (!root)
        return tl::unexpected(Problems{root.error()});
    Reader reader{text, file};
    T document;
    if (readEnvelope(reader, *root, format)) {
        if constexpr (std::is_same_v<T, scene::Scene>)
            document.loaded = findKits(*root, kits);
        reader.readDocument(*root, document);
        if constexpr (std::is_same_v<T, scene::Scene>)
            checkIds(reader, *root);
        if constexpr (!std::is_same_v<T, scene::Take>) {
            checkProperties(reader, *root);
            checkAssemblies(reader, *root, document);
        }
        if constexpr (std::is_same_v<T, scene::Kit>)
            IdCheck{reader, *root}.check("snares");
    }
    if (!reader.problems().empty())
        return tl::unexpected(reader.takeProblems());
    return document;
}

/// What was changed on a piece while its template is missing, over what the file said.
Json lostPieceJson(const scene::Piece& piece)
{
    const auto root = parseJson(piece.lost, {});
    Json json = Json::parse(piece.lost, nullptr, false);
    scene::Piece before;
    if (!root || !json.is_object() || (Reader{piece.lost, {}}.readWithoutTemplate(*root, before), false))
        return toJson(piece);
    before.lost = piece.lost;
    const Json own = toJson(piece, before);
    for (const auto& [key, value] : own.items()) {
        if ((key == "properties" || key == "looks") && json.contains(key))
            json[key].update(value);
        else
            json[key] = value;
    }
    return json;
}

/// A piece as it differs from its template.
Json pieceJson(const scene::Scene& scene, const scene::Piece& piece)
{
    const scene::Template* form = scene::templateOf(scene, piece);
    if (form && scene::follows(piece, form->model))
        return toJson(piece, form->model);
    if (!form && !piece.lost.empty())
        return lostPieceJson(piece);
    Json json = toJson(piece);
    if (form) // it went its own way
        json.erase("template");
    return json;
}

/// What of the parts of a laid one is their own, by the part's name.
Json ownOfParts(const scene::Scene& scene, const scene::Laid& laid, const scene::Assembly* assembly)
{
    Json parts = Json::object();
    for (const std::size_t i : assembly ? scene::partsOf(scene, laid.id) : std::vector<std::size_t>{}) {
        const scene::Piece& piece = scene.pieces[i];
        const auto model = std::ranges::find(assembly->pieces, piece.partOf->part, &scene::Piece::id);
        if (model == assembly->pieces.end())
            continue;
        Json own = toJson(scene::unplaced(*assembly, *model, piece, laid), *model);
        own.erase("id");
        own.erase("template");
        if (!own.empty())
            parts[model->id] = std::move(own);
    }
    if (const Json lost = Json::parse(laid.lost.empty() ? "{}" : laid.lost, nullptr, false); lost.is_object())
        for (const auto& [key, value] : lost.items())
            parts[key] = value;
    return parts;
}

Json laidJson(const scene::Scene& scene, const scene::Laid& laid, const scene::Assembly* assembly)
{
    Json json = toJson(laid);
    if (Json parts = ownOfParts(scene, laid, assembly); !parts.empty())
        json["parts"] = std::move(parts);
    return json;
}

Json piecesJson(const scene::Scene& scene)
{
    Json pieces = Json::array();
    std::string_view last; // the laid one whose parts have been written
    for (const scene::Piece& piece : scene.pieces) {
        const scene::Laid* laid = piece.partOf ? scene::findLaid(scene, piece.partOf->laid) : nullptr;
        const scene::Assembly* assembly = laid ? scene::findAssembly(scene, laid->assembly) : nullptr;
        if (!assembly) {
            pieces.push_back(pieceJson(scene, piece));
            continue;
        }
        if (last != laid->id)
            pieces.push_back(laidJson(scene, *laid, assembly));
        last = laid->id;
    }
    for (const scene::Laid& laid : scene.laid)
        if (!scene::findAssembly(scene, laid.assembly)) // its kit is missing
            pieces.push_back(laidJson(scene, laid, nullptr));
    return pieces;
}

template <class T> std::string documentText(const T& document, std::string_view format)
{
    Json root{{"format", std::string(format)}, {"version", newestVersion}};
    writeFields(root, document);
    if constexpr (std::is_same_v<T, scene::Scene>)
        if (!document.pieces.empty() || !document.laid.empty())
            root["pieces"] = piecesJson(document);
    return layOut(root);
}

Problem fileProblem(const std::filesystem::path& path, std::string text)
{
    return {path.string(), 0, 0, {}, std::move(text)};
}

std::string systemMessage()
{
    return std::strerror(errno); // NOLINT(concurrency-mt-unsafe): the message is copied at once
}

} // namespace

tl::expected<scene::Scene, Problems> readScene(std::string_view text, const std::string& file, const KitFinder& kits)
{
    return readDocument<scene::Scene>(text, file, "fresh-snare-scene", kits);
}

tl::expected<scene::Kit, Problems> readKit(std::string_view text, const std::string& file)
{
    return readDocument<scene::Kit>(text, file, "fresh-snare-kit");
}

std::vector<std::string> scenesNaming(const std::filesystem::path& folder, const std::string& kit)
{
    constexpr std::string_view ending = ".snare.json";
    std::vector<std::string> names;
    std::error_code error;
    for (const auto& entry : std::filesystem::directory_iterator{folder, error}) {
        const std::string name = entry.path().filename().string();
        if (!name.ends_with(ending) || !entry.is_regular_file(error))
            continue;
        const auto text = loadText(entry.path());
        if (!text || text->find(kit) == std::string::npos) // most do not even have the word
            continue;
        const auto root = parseJson(*text, name);
        const Node* kits = root ? root->find("kits") : nullptr;
        if (kits && kits->elements() &&
            std::ranges::any_of(*kits->elements(), [&](const Node& one) { return one.text() && *one.text() == kit; }))
            names.push_back(name);
    }
    std::ranges::sort(names);
    return names;
}

void layAside(scene::Scene& scene, std::string_view id)
{
    const auto laid = std::ranges::find(scene.laid, id, &scene::Laid::id);
    if (laid == scene.laid.end())
        return;
    const Json parts = ownOfParts(scene, *laid, scene::findAssembly(scene, laid->assembly));
    laid->lost = parts.empty() ? std::string() : parts.dump();
    erase_if(scene.pieces, [&](const scene::Piece& piece) { return piece.partOf && piece.partOf->laid == laid->id; });
}

KitFinder kitsIn(std::filesystem::path folder)
{
    return [folder = std::move(folder)](const std::string& name) {
        scene::LoadedKit loaded{name, {}, {}, 0};
        std::error_code error;
        if (const auto kind = std::filesystem::status(folder / name, error).type();
            kind != std::filesystem::file_type::regular && kind != std::filesystem::file_type::not_found) {
            loaded.problem = fileProblem(folder / name, "this is no file").message(); // a device may never end
            return loaded;
        }
        const auto text = loadText(folder / name);
        if (!text) {
            loaded.problem = text.error().message();
            return loaded;
        }
        auto kit = readKit(*text, (folder / name).string());
        if (kit)
            loaded.kit = std::move(*kit);
        else
            loaded.problem = kit.error().front().message();
        return loaded;
    };
}

tl::expected<scene::Take, Problems> readTake(std::string_view text, const std::string& file)
{
    return readDocument<scene::Take>(text, file, "fresh-snare-take");
}

tl::expected<scene::Scene, Problems> loadScene(const std::filesystem::path& path)
{
    const auto text = loadText(path);
    if (!text)
        return tl::unexpected(Problems{text.error()});
    auto scene = readScene(*text, path.string(), kitsIn(path.parent_path()));
    if (scene)
        Pictures{path.parent_path()}.trace(*scene);
    return scene;
}

tl::expected<scene::Take, Problems> loadTake(const std::filesystem::path& path)
{
    const auto text = loadText(path);
    if (!text)
        return tl::unexpected(Problems{text.error()});
    return readTake(*text, path.string());
}

std::string sceneText(const scene::Scene& scene)
{
    return documentText(scene, "fresh-snare-scene");
}

std::string kitText(const scene::Kit& kit)
{
    return documentText(kit, "fresh-snare-kit");
}

std::string takeText(const scene::Take& take)
{
    return documentText(take, "fresh-snare-take");
}

tl::expected<std::string, Problem> loadText(const std::filesystem::path& path)
{
    constexpr std::uintmax_t largest = 256u << 20;
    std::error_code error;
    if (std::filesystem::is_directory(path, error))
        return tl::unexpected(fileProblem(path, "this is a folder"));
    std::ifstream file{path, std::ios::binary};
    if (!file)
        return tl::unexpected(fileProblem(path, "cannot be opened: " + systemMessage()));
    std::string text;
    if (const auto size = std::filesystem::file_size(path, error); !error && size <= largest)
        text.reserve(static_cast<std::size_t>(size));
    std::vector<char> part(1u << 16);
    while (file) {
        file.read(part.data(), static_cast<std::streamsize>(part.size()));
        text.append(part.data(), static_cast<std::size_t>(file.gcount()));
        if (text.size() > largest) // a device has no size that could be asked for
            return tl::unexpected(fileProblem(path, "is larger than 256 MiB"));
    }
    if (file.bad())
        return tl::unexpected(fileProblem(path, "cannot be read: " + systemMessage()));
    return text;
}

namespace {

/// Writes all of a text; false, with `errno`, if that cannot be done.
bool writeAll(int file, std::string_view text)
{
    for (std::size_t done = 0; done < text.size();) {
        const ssize_t wrote = ::write(file, text.data() + done, text.size() - done);
        if (wrote < 0 && errno == EINTR)
            continue;
        if (wrote < 0)
            return false;
        done += static_cast<std::size_t>(wrote);
    }
    return true;
}

/// A device or a pipe is written into: it has nothing that could be replaced.
tl::expected<void, Problem> writeInto(const std::filesystem::path& path, std::string_view text)
{
    const int file = ::open(path.c_str(), O_WRONLY | O_NOCTTY | O_CLOEXEC); // NOLINT: the system's call
    if (file < 0)
        return tl::unexpected(fileProblem(path, "cannot be opened: " + systemMessage()));
    const bool fine = writeAll(file, text);
    const std::string message = fine ? std::string() : systemMessage();
    ::close(file);
    if (!fine)
        return tl::unexpected(fileProblem(path, "cannot be written: " + message));
    return {};
}

} // namespace

bool isStandardOutput(const std::filesystem::path& path)
{
    struct stat ofPath {};
    struct stat ofOutput {};
    return path == "-" || (::stat(path.c_str(), &ofPath) == 0 && ::fstat(STDOUT_FILENO, &ofOutput) == 0 &&
                           ofPath.st_dev == ofOutput.st_dev && ofPath.st_ino == ofOutput.st_ino);
}

tl::expected<void, Problem> saveText(const std::filesystem::path& path, std::string_view text)
{
    // Written beside it, brought to the disk, then renamed over it. A link keeps pointing at what
    // it points at.
    std::error_code error;
    const auto kind = std::filesystem::status(path, error).type();
    if (kind != std::filesystem::file_type::regular && kind != std::filesystem::file_type::not_found &&
        kind != std::filesystem::file_type::none)
        return writeInto(path, text);
    const std::filesystem::path real =
        std::filesystem::is_symlink(path, error) ? std::filesystem::canonical(path, error) : path;
    std::string partName = real.string() + ".part-XXXXXX";
    const int part = ::mkstemp(partName.data());
    if (part < 0)
        return tl::unexpected(fileProblem(path, "cannot be saved: " + systemMessage()));
    const auto giveUp = [&]() -> tl::expected<void, Problem> {
        const Problem problem = fileProblem(path, "cannot be saved: " + systemMessage());
        ::close(part);
        ::unlink(partName.c_str());
        return tl::unexpected(problem);
    };
    const auto mode = std::filesystem::exists(real, error) ? std::filesystem::status(real, error).permissions()
                                                           : std::filesystem::perms(0644);
    if (::fchmod(part, static_cast<mode_t>(mode) & 07777) != 0)
        return giveUp();
    if (!writeAll(part, text))
        return giveUp();
    if (::fsync(part) != 0 || ::rename(partName.c_str(), real.c_str()) != 0)
        return giveUp();
    ::close(part);
    return {};
}

} // namespace snare::io
