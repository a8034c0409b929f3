// SPDX-License-Identifier: Apache-2.0
#include "app/slots/naming.h"

#include "app/ui/slot_popup.h"
#include "app/ui/text.h"
#include "io/json.h"

#include <QObject>
#include <nlohmann/json.hpp>

#include <set>

namespace snare::app {

void askForName(QWidget* anchor, Document& document, scene::Thing kind, const std::string& name,
                const std::function<void(const std::string&)>& renamed)
{
    Question question;
    const std::size_t count = scene::countMentions(document.scene(), kind, name);
    question.title = count == 0
                         ? QObject::tr("New name of %1; nothing else mentions it").arg(toText(name))
                         : QObject::tr("New name of %1; %2 will follow")
                               .arg(toText(name), counted(count, QObject::tr("mention"), QObject::tr("mentions")));
    question.freeText = true;
    question.typed = toText(name);
    question.check = [&document, kind, name](const QStringList& answer) {
        const auto wrong = scene::refuseName(document.scene(), kind, name, answer.front().toStdString());
        return wrong ? toText(*wrong) : QString();
    };
    SlotPopup::ask(anchor, question, [&document, kind, name, renamed](const QStringList& answer) {
        const std::string to = answer.front().toStdString();
        if (to == name)
            return;
        document.rename(kind, name, to);
        renamed(to);
    });
}

namespace {

/// What `text`, of a field that refers so, is the name of; and the name.
std::optional<std::pair<scene::Thing, std::string>> namedBy(const scene::Scene& scene, scene::Refers refers,
                                                            const std::string& text)
{
    using scene::Refers;
    using scene::Thing;
    if (refers == Refers::target || refers == Refers::place) {
        for (const auto& [prefix, kind] :
             {std::pair{"tag:", Thing::tag}, {"group:", Thing::group}, {"template:", Thing::form}})
            if (text.starts_with(prefix))
                return std::pair{kind, text.substr(std::string_view{prefix}.size())};
        const std::string piece{scene::splitShape(text).first};
        if (scene::findPiece(scene, piece))
            return std::pair{Thing::piece, piece};
        return scene::findSource(scene, text) ? std::optional(std::pair{Thing::source, text}) : std::nullopt;
    }
    if (refers == Refers::during)
        return std::pair{Thing::phase, text.starts_with("scene:") ? text.substr(6) : text};
    const auto kind = scene::thingOf(refers);
    return kind ? std::optional(std::pair{*kind, text}) : std::nullopt;
}

} // namespace

namespace {

QString textOf(const scene::Use& use)
{
    switch (use.where) {
    case scene::Use::Where::snare:
        return QObject::tr("snare %1").arg(toText(use.id));
    case scene::Use::Where::routine:
        return QObject::tr("routine %1").arg(toText(use.id));
    case scene::Use::Where::piece:
        return QObject::tr("piece %1").arg(toText(use.id));
    case scene::Use::Where::form:
        return QObject::tr("template %1").arg(toText(use.id));
    case scene::Use::Where::assembly:
        return QObject::tr("assembly %1").arg(toText(use.id));
    case scene::Use::Where::source:
        return QObject::tr("source %1").arg(toText(use.id));
    case scene::Use::Where::scene:
        break;
    }
    return QObject::tr("the scene itself");
}

} // namespace

void showUses(QWidget* anchor, Document& document, scene::Thing kind, const std::string& name)
{
    const std::vector<scene::Use> uses = scene::usesOf(document.scene(), kind, name);
    Question question;
    question.title = uses.empty()
                         ? QObject::tr("Nothing mentions the %1 %2").arg(toText(scene::wordOf(kind)), toText(name))
                         : QObject::tr("Where the %1 %2 is used").arg(toText(scene::wordOf(kind)), toText(name));
    question.placeholder = QObject::tr("type to find");
    question.proposes = true; // the first is marked
    for (std::size_t i = 0; i < uses.size(); ++i)
        question.choices.push_back({QString::number(i),
                                    uses[i].home.empty()
                                        ? textOf(uses[i])
                                        : QObject::tr("%1 of %2").arg(textOf(uses[i]), toText(uses[i].home)),
                                    uses[i].times > 1 ? QObject::tr("%1 times").arg(uses[i].times) : QString(),
                                    {}});
    SlotPopup::ask(anchor, question, [&document, uses](const QStringList& answer) {
        emit document.showWanted(uses[answer.front().toUInt()]);
    });
}

void offerUses(Question& question, QWidget* anchor, Document& document, scene::Thing kind, const std::string& name)
{
    const std::size_t places = scene::usesOf(document.scene(), kind, name).size();
    if (places == 0)
        return;
    question.usesText = QObject::tr("%1 is used in %2…")
                            .arg(toText(name), counted(places, QObject::tr("place"), QObject::tr("places")));
    question.uses = [anchor, &document, kind, name] { showUses(anchor, document, kind, name); };
}

void offerRename(Question& question, QWidget* anchor, Document& document, const io::FieldView& field)
{
    auto value = io::Json::parse(field.json, nullptr, false);
    if (value.is_array() && value.size() == 1)
        value = io::Json(value.front());
    if (!value.is_string() || value.get<std::string>().empty())
        return;
    const auto named = namedBy(document.scene(), field.refers, value.get<std::string>());
    if (!named || scene::countMentions(document.scene(), named->first, named->second) == 0)
        return;
    offerUses(question, anchor, document, named->first, named->second);
    question.renameText = QObject::tr("Rename %1 everywhere…").arg(toText(named->second));
    question.rename = [anchor, &document, named = *named] {
        askForName(anchor, document, named.first, named.second, [](const std::string&) {});
    };
}

QString whatMentions(const scene::Scene& scene, const std::vector<std::string>& pieces)
{
    std::set<std::string> listening;
    std::set<std::string> acting;
    for (const std::string& id : pieces)
        if (const scene::Piece* piece = scene::findPiece(scene, id)) {
            for (std::string& snare : scene::snaresListeningAt(scene, *piece))
                listening.insert(std::move(snare));
            for (std::string& snare : scene::snaresActingOn(scene, *piece))
                acting.insert(std::move(snare));
        }
    QStringList parts;
    if (!listening.empty())
        parts << counted(listening.size(), QObject::tr("snare listens there"), QObject::tr("snares listen there"));
    if (!acting.empty())
        parts << counted(acting.size(), QObject::tr("acts on it from elsewhere"),
                         QObject::tr("act on it from elsewhere"));
    return parts.join(QObject::tr(", "));
}

} // namespace snare::app
