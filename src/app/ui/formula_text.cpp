// SPDX-License-Identifier: Apache-2.0
#include "app/ui/formula_text.h"

#include "app/ui/text.h"
#include "app/ui/value_text.h"

#include <QObject>
#include <QRegularExpression>

namespace snare::app {

using io::Json;

namespace {

/// A literal as it stands alone.
QString literalOf(const Json& value)
{
    if (value.is_number())
        return literalText(value.get<double>());
    if (value.is_boolean())
        return literalText(value.get<bool>());
    return value.is_string() ? toText(value.get<std::string>()) : QString();
}

bool isSum(const Json& value)
{
    return value.is_object() && value.contains("sum");
}

/// A part of a formula; what would be read otherwise stands in parentheses or quotes.
QString partText(const Json& value, bool inList)
{
    if (value.is_string()) {
        const std::string text = value.get<std::string>();
        const QString plain = literalText(text);
        return inList && formulaFrom(toText(text)).is_null() && !looksLikePath(toText(text))
                   ? plain
                   : toText(Json(text).dump());
    }
    if (!value.is_object())
        return literalOf(value);
    if (value.contains("get"))
        return literalOf(value["get"]);
    const QString text = formulaText(value);
    const bool isTight = value.contains("count") && value["count"].is_string();
    return isTight ? text : QStringLiteral("(%1)").arg(text);
}

QString listText(const Json& list)
{
    QStringList parts;
    for (const Json& part : list)
        parts << (isSum(part) ? formulaText(part) : partText(part, true));
    return parts.join(QStringLiteral(", "));
}

QString sumText(const Json& list)
{
    QString text;
    for (const Json& part : list) {
        const bool less = !text.isEmpty() && part.is_number() && part.get<double>() < 0;
        if (!text.isEmpty())
            text += less ? QStringLiteral(" - ") : QStringLiteral(" + ");
        text += less ? literalText(-part.get<double>()) : partText(part, false);
    }
    return text;
}

/// Reads a formula from left to right. A step that fails leaves the place where it was.
class FormulaReader {
  public:
    FormulaReader(QString text, bool strict) : text_(std::move(text)), strict_(strict) {}

    /// The whole text as a formula, or null.
    Json read()
    {
        const std::optional<Json> value = sum();
        skip();
        return value && at_ == text_.size() && value->is_object() ? *value : Json{};
    }

    /// Whether the whole text is a number, a path or a formula. Else `failsAt` tells where it is no longer.
    bool readsAll()
    {
        isPlain_ = !sum().has_value();
        skip();
        return at_ == text_.size() && !isPlain_;
    }
    /// The first character that leads nowhere; what follows an operator, if something is missing at the end.
    qsizetype failsAt() const
    {
        qsizetype at = farthest_ < text_.size() ? farthest_ : at_;
        while (at < text_.size() && (text_[at].isSpace() || (at == at_ && stopsAtOperator() && at + 1 < text_.size())))
            ++at;
        return std::min(at, text_.size() - 1);
    }
    /// Nothing was a number, a path or a formula: it is a text.
    bool isPlain() const { return isPlain_; }
    /// What was understood at first ends before an operator.
    bool stopsAtOperator() const { return at_ < text_.size() && QStringLiteral("+-*/(").contains(text_[at_]); }

  private:
    void skip()
    {
        while (at_ < text_.size() && text_[at_].isSpace())
            ++at_;
    }

    bool word(const QString& expected)
    {
        const qsizetype before = at_;
        skip();
        const qsizetype end = at_ + expected.size();
        const bool isThere = QStringView{text_}.mid(at_).startsWith(expected, Qt::CaseInsensitive) &&
                             !(end < text_.size() && text_[end].isLetterOrNumber() && expected.back().isLetter());
        at_ = isThere ? end : before;
        farthest_ = std::max(farthest_, at_);
        return isThere;
    }

    std::optional<QString> match(const QRegularExpression& pattern)
    {
        const qsizetype before = at_;
        skip();
        const auto found =
            pattern.match(text_, at_, QRegularExpression::NormalMatch, QRegularExpression::AnchorAtOffsetMatchOption);
        if (!found.hasMatch()) {
            at_ = before;
            return std::nullopt;
        }
        at_ = found.capturedEnd();
        farthest_ = std::max(farthest_, at_);
        return found.captured();
    }

    std::optional<QString> name()
    {
        static const QRegularExpression names{QStringLiteral(R"([A-Za-z_][A-Za-z0-9_.:/-]*)")};
        return match(names);
    }

    std::optional<Json> number()
    {
        static const QRegularExpression numbers{
            QStringLiteral(R"(-?(?:[0-9]+(?:\.[0-9]+)?|\.[0-9]+)(?:[eE][-+]?[0-9]+)?(?![A-Za-z0-9_]))")};
        const auto found = match(numbers);
        return found ? std::optional<Json>(found->toDouble()) : std::nullopt;
    }

    std::optional<Json> path()
    {
        static const QRegularExpression paths{
            QStringLiteral(R"([A-Za-z_][A-Za-z0-9_-]*(?:\.[A-Za-z_][A-Za-z0-9_-]*)+(?![A-Za-z0-9_]))")};
        const auto found = match(paths);
        return found ? std::optional<Json>(Json{{"get", found->toStdString()}}) : std::nullopt;
    }

    std::optional<Json> quoted()
    {
        static const QRegularExpression texts{QStringLiteral(R"("(?:[^"\\]|\\.)*")")};
        const qsizetype before = at_;
        const auto found = match(texts);
        if (!found)
            return std::nullopt;
        const Json text = Json::parse(found->toStdString(), nullptr, false);
        if (text.is_string())
            return text;
        at_ = before;
        return std::nullopt;
    }

    /// "(", a sum or Lua, ")".
    std::optional<Json> inParentheses()
    {
        const qsizetype before = at_;
        if (!word(QStringLiteral("(")))
            return std::nullopt;
        if (word(QStringLiteral("="))) {
            int depth = 1;
            const qsizetype from = at_;
            while (at_ < text_.size() && depth > 0) {
                depth += text_[at_] == QLatin1Char('(') ? 1 : text_[at_] == QLatin1Char(')') ? -1 : 0;
                ++at_;
            }
            if (depth == 0)
                return Json{{"script", text_.mid(from, at_ - 1 - from).trimmed().toStdString()}};
        } else if (std::optional<Json> inner = sum(); inner && word(QStringLiteral(")"))) {
            return inner;
        }
        at_ = before;
        return std::nullopt;
    }

    std::optional<Json> bound()
    {
        if (auto found = number())
            return found;
        if (auto found = path())
            return found;
        return inParentheses();
    }

    std::optional<Json> item()
    {
        const qsizetype before = at_;
        if (std::optional<Json> value = sum()) {
            skip();
            if (at_ == text_.size() || text_[at_] == QLatin1Char(',') || text_[at_] == QLatin1Char(')'))
                return value;
        }
        at_ = before;
        if (strict_)
            return std::nullopt;
        static const QRegularExpression plain{QStringLiteral(R"re([^,()"]+)re")};
        const auto found = match(plain);
        if (!found || found->trimmed().isEmpty())
            return std::nullopt;
        const scene::Scalar value = literalFrom(*found);
        if (const auto* flag = std::get_if<bool>(&value))
            return Json(*flag);
        return Json(found->trimmed().toStdString());
    }

    std::optional<Json> oneOf()
    {
        Json list = Json::array();
        do {
            auto one = item();
            if (!one)
                return std::nullopt;
            list.push_back(std::move(*one));
        } while (word(QStringLiteral(",")));
        return Json{{"oneOf", list}};
    }

    std::optional<Json> howMany()
    {
        Json list = Json::array();
        do {
            const auto one = name();
            if (!one || (strict_ && !one->contains(QLatin1Char(':'))))
                return std::nullopt;
            list.push_back(one->toStdString());
        } while (word(QStringLiteral(",")));
        return Json{{"count", list.size() == 1 ? list.front() : list}};
    }

    std::optional<Json> anywhere()
    {
        const auto where = name();
        if (!where)
            return std::nullopt;
        Json formula{{"somewhere", where->toStdString()}};
        if (const qsizetype before = at_; !word(QStringLiteral(",")) || !word(QObject::tr("clear of solids")))
            at_ = before;
        else
            formula["clear"] = true;
        return formula;
    }

    std::optional<Json> part()
    {
        const qsizetype before = at_;
        std::optional<Json> value;
        if (word(QObject::tr("one of")))
            value = oneOf();
        else if (word(QObject::tr("how many")))
            value = howMany();
        else if (word(QObject::tr("anywhere in")))
            value = anywhere();
        else if (word(QObject::tr("same as")))
            value = path();
        else if (!(value = quoted()))
            value = bound();
        if (!value) {
            at_ = before;
            return std::nullopt;
        }
        const qsizetype end = at_;
        if (word(QObject::tr("to")) || word(QStringLiteral(".."))) {
            if (const std::optional<Json> high = bound()) {
                word(QObject::tr("at random"));
                return Json{{"between", Json::array({*value, *high})}};
            }
            at_ = end;
        }
        return value;
    }

    std::optional<Json> sum()
    {
        std::optional<Json> first = part();
        if (!first)
            return std::nullopt;
        Json parts = Json::array({*first});
        for (;;) {
            const qsizetype before = at_;
            static const QRegularExpression sign{QStringLiteral(R"(\s[-+]\s)")};
            const auto found =
                sign.match(text_, at_, QRegularExpression::NormalMatch, QRegularExpression::AnchorAtOffsetMatchOption);
            if (!found.hasMatch())
                break;
            at_ = found.capturedEnd();
            farthest_ = std::max(farthest_, at_);
            std::optional<Json> next = part();
            const bool less = found.captured().contains(QLatin1Char('-'));
            if (!next || (less && !next->is_number())) {
                at_ = before;
                break;
            }
            parts.push_back(less ? Json(-next->get<double>()) : *next);
        }
        if (parts.size() == 1)
            return first;
        // Of literals alone it is no formula: "2 - 3" may be a text.
        const bool worked = std::ranges::any_of(parts, [](const Json& one) { return one.is_object(); });
        return worked ? std::optional(Json{{"sum", parts}}) : std::nullopt;
    }

    QString text_;
    bool strict_;
    qsizetype at_ = 0;
    qsizetype farthest_ = 0; ///< where anything was understood up to
    bool isPlain_ = false;
};

Json readFormula(const QString& typed, bool strict)
{
    const QString text = typed.trimmed();
    if (text.startsWith(QLatin1Char('=')) && text.size() > 1)
        return Json{{"script", text.mid(1).trimmed().toStdString()}};
    const Json formula = FormulaReader{text, strict}.read();
    // A path alone is one where values are expected; it is said by its slot.
    return formula.is_object() && formula.contains("get") &&
                   !text.startsWith(QObject::tr("same as"), Qt::CaseInsensitive)
               ? Json{}
               : formula;
}

} // namespace

bool looksLikePath(const QString& typed)
{
    static const QRegularExpression path{QStringLiteral(R"(^[A-Za-z_][A-Za-z0-9_-]*(\.[A-Za-z_][A-Za-z0-9_-]*)+$)")};
    return path.match(typed).hasMatch();
}

QString formulaText(const Json& value)
{
    if (value.is_array()) {
        QStringList parts;
        for (const Json& part : value)
            parts << formulaText(part);
        return QStringLiteral("(%1)").arg(parts.join(QStringLiteral(", ")));
    }
    if (!value.is_object() || value.empty())
        return literalOf(value);
    if (value.contains("get"))
        return QObject::tr("same as %1").arg(literalOf(value["get"]));
    if (const auto between = value.find("between"); between != value.end() && between->size() == 2)
        return QObject::tr("%1 to %2 at random").arg(partText((*between)[0], false), partText((*between)[1], false));
    if (value.contains("oneOf"))
        return QObject::tr("one of %1").arg(listText(value["oneOf"]));
    if (value.contains("sum"))
        return sumText(value["sum"]);
    if (const auto count = value.find("count"); count != value.end()) {
        QStringList names;
        if (count->is_string())
            names << literalOf(*count);
        else
            for (const Json& name : *count)
                names << literalOf(name);
        return QObject::tr("how many %1").arg(names.join(QStringLiteral(", ")));
    }
    if (value.contains("somewhere"))
        return (value.contains("clear") ? QObject::tr("anywhere in %1, clear of solids")
                                        : QObject::tr("anywhere in %1"))
            .arg(literalOf(value["somewhere"]));
    if (value.contains("script"))
        return QStringLiteral("= %1").arg(literalOf(value["script"]));
    return {};
}

Json formulaFrom(const QString& typed)
{
    return readFormula(typed, false);
}

Json formulaInText(const QString& typed)
{
    return readFormula(typed, true);
}

std::optional<int> notUnderstoodAt(const QString& typed, bool expectsNumber)
{
    const QString text = typed.trimmed();
    if (text.isEmpty() || text.startsWith(QLatin1Char('=')))
        return std::nullopt;
    FormulaReader reader{text, false};
    if (reader.readsAll())
        return std::nullopt;
    if (!expectsNumber && (reader.isPlain() || !reader.stopsAtOperator()))
        return std::nullopt;
    return static_cast<int>(typed.indexOf(text) + reader.failsAt());
}

QString notUnderstoodText(const QString& typed, int at, bool mayBeText)
{
    const QString rest = typed.mid(at).trimmed();
    const QString wanted = QObject::tr("“%1” is not understood here: a number, a path such as self.load, or "
                                       "( … ) can stand in its place.")
                               .arg(rest);
    return mayBeText ? wanted + QObject::tr(" A text that looks so stands in quotes.") : wanted;
}

QString typedInText(const std::string& text)
{
    const QString plain = toText(text);
    const bool isQuoted = plain.size() > 1 && plain.startsWith(QLatin1Char('"')) && plain.endsWith(QLatin1Char('"'));
    return isQuoted || plain != plain.trimmed() || !formulaInText(plain).is_null() ? toText(Json(text).dump()) : plain;
}

std::vector<PathChoice> pathChoices(const scene::Scene& scene)
{
    std::vector<PathChoice> choices;
    const auto add = [&](const QString& path, const QString& about) {
        if (std::ranges::none_of(choices, [&](const PathChoice& choice) { return choice.path == path; }))
            choices.push_back({path, about});
    };
    for (const auto& entry : scene.variables.entries)
        add(QStringLiteral("scene.") + toText(entry.first), QObject::tr("a variable"));
    const auto isOfPieces = [&](const std::string& name) {
        return std::ranges::any_of(scene.pieces, [&](const auto& piece) { return piece.properties.find(name); }) ||
               std::ranges::any_of(scene.templates.entries,
                                   [&](const auto& entry) { return entry.second.model.properties.find(name); });
    };
    for (const std::string& name : scene::allValueNames(scene)) {
        if (scene.variables.find(name) && !isOfPieces(name))
            continue;
        add(QStringLiteral("self.") + toText(name), QObject::tr("where it is caught"));
        add(QStringLiteral("visitor.") + toText(name), QObject::tr("who came"));
    }
    for (const scene::Source& source : scene.sources)
        if (std::holds_alternative<scene::DialSource>(source.kind))
            add(toText(source.id) + QStringLiteral(".value"), QObject::tr("a dial"));
    for (const scene::Snare& snare : scene.snares)
        for (const scene::Response& response : snare.responses)
            if (const auto* signal = std::get_if<scene::Signal>(&response.kind))
                for (const auto& entry : signal->with.entries)
                    add(QStringLiteral("signal.") + toText(entry.first), QObject::tr("a value of a signal"));
    for (const char* owner : {"self", "visitor"})
        for (const char* name : {"id", "phase", "group", "x", "y", "turn", "speed", "count", "age"})
            add(QStringLiteral("%1.%2").arg(QLatin1String(owner), QLatin1String(name)), QObject::tr("built in"));
    for (const char* name : {"name", "key", "value", "speed", "side", "shape", "part"})
        add(QStringLiteral("event.%1").arg(QLatin1String(name)), QObject::tr("of the event"));
    add(QStringLiteral("scene.age"), QObject::tr("seconds since the start"));
    add(QStringLiteral("scene.phase"), QObject::tr("of the scene"));
    for (const scene::Piece& piece : scene.pieces)
        for (const auto& entry : piece.properties.entries)
            add(toText(piece.id) + QLatin1Char('.') + toText(entry.first), QObject::tr("of that piece"));
    return choices;
}

} // namespace snare::app
