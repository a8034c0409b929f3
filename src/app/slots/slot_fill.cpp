// SPDX-License-Identifier: Apache-2.0
#include "app/slots/slot_fill.h"

#include "app/ui/formula_text.h"
#include "app/ui/key_names.h"
#include "app/ui/sums.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"
#include "io/json.h"
#include "scene/templates.h"
#include "words/slots.h"

#include <QDir>
#include <QObject>
#include <QRegularExpression>
#include <nlohmann/json.hpp>

#include <algorithm>

namespace snare::app {

using io::FieldView;
using io::Json;
using io::SlotKind;
using scene::Refers;

namespace {

/// A text or a formula for one, where texts are expected.
QString textText(const Json& value)
{
    return value.is_string() ? typedInText(value.get<std::string>()) : formulaText(value);
}

/// Targets as they are typed.
QString targetsTyped(const Json& value)
{
    QStringList list;
    if (value.is_string())
        list << toText(value.get<std::string>());
    else
        for (const Json& name : value)
            list << toText(name.get<std::string>());
    return list.join(QStringLiteral(", "));
}

std::string quoted(const QString& text)
{
    return Json(text.toStdString()).dump();
}

std::string listJson(const QStringList& list)
{
    Json json = Json::array();
    for (const QString& entry : list)
        json.push_back(entry.trimmed().toStdString());
    return json.dump();
}

/// "3, 2", "(3; 2)": two numbers, or nothing.
std::string pointJson(const QString& typed)
{
    static const QRegularExpression point{
        QStringLiteral(R"(^\s*\(?\s*(-?[0-9.]+)\s*[,; ]\s*(-?[0-9.]+)\s*(?:[,; ]\s*(-?[0-9.]+)\s*)?\)?\s*$)")};
    const auto match = point.match(typed);
    if (!match.hasMatch())
        return {};
    QStringList numbers;
    for (const int part : {1, 2, 3}) // the third is a height (M15)
        if (!match.captured(part).isEmpty())
            numbers << QString::number(match.captured(part).toDouble(), 'g', 15);
    return QStringLiteral("[%1]").arg(numbers.join(QStringLiteral(", "))).toStdString();
}

/// "(same as self.x, 2)": two values of which one is worked out, or null.
Json workedOutPoint(const QString& typed)
{
    QString inner = typed.trimmed();
    if (inner.startsWith(QLatin1Char('(')) && inner.endsWith(QLatin1Char(')')))
        inner = inner.mid(1, inner.size() - 2);
    const QStringList parts = partsOf(inner);
    if (parts.size() != 2)
        return {};
    Json point = Json::array();
    for (const QString& part : parts) {
        const Json value = Json::parse(valueJson(part), nullptr, false);
        if (!value.is_number() && !value.is_object())
            return {};
        point.push_back(value);
    }
    return point;
}

/// The number in "2 m/s", "2", "0,5", "3.6/2".
QString bareNumber(const QString& typed)
{
    static const QRegularExpression number{QStringLiteral(R"(^\s*(-?[0-9]*[.,]?[0-9]+)\s*[^0-9]*$)")};
    const auto match = number.match(typed);
    if (match.hasMatch())
        return match.captured(1).replace(QLatin1Char(','), QLatin1Char('.'));
    const auto sum = sumOf(typed);
    return sum ? QString::number(*sum, 'g', 15) : QString();
}

/// Where a list of names and values, which may be worked out, is not understood.
std::optional<int> namedFaultAt(const QString& typed)
{
    if (const auto at = valuesFaultAt(typed))
        return at;
    for (const ListPart& part : placedPartsOf(typed)) {
        const auto value = part.text.indexOf(QLatin1Char('=')) + 1;
        if (const auto at = notUnderstoodAt(part.text.mid(value), false))
            return part.at + static_cast<int>(value) + *at;
    }
    return std::nullopt;
}

} // namespace

QString slotText(const FieldView& field)
{
    return toText(words::slotText(field));
}

namespace {

/// What may be typed, for slots that take more than a choice.
QString placeholderOf(const FieldView& field)
{
    switch (field.kind) {
    case SlotKind::target:
        return QObject::tr("one or more, with commas between: self, tag:boat, self.held");
    case SlotKind::number:
        return QObject::tr("a number, 1 to 3, or same as self.load");
    case SlotKind::value:
        return QObject::tr("a number, a text, true, or same as self.load");
    case SlotKind::place:
        return QObject::tr("x, y in m, or choose below");
    case SlotKind::point:
        if (field.unit != scene::Unit::none && field.unit != scene::Unit::metres)
            return QObject::tr("x, y or x, y, z in %1").arg(toText(scene::symbolOf(field.unit)));
        return QObject::tr("x, y or x, y, z in m");
    case SlotKind::numbers:
        return QObject::tr("numbers with commas between");
    case SlotKind::colour:
        return QObject::tr("a colour such as #1f8a7a; empty: none");
    case SlotKind::frames:
        return QObject::tr("4, or files with commas between");
    case SlotKind::named:
        return QObject::tr("name = value, name = value");
    default:
        return {};
    }
}

} // namespace

Question questionFor(const FieldView& field, const scene::Scene& scene,
                     const std::function<std::optional<std::string>(const std::string& json)>& check)
{
    Question question;
    question.title = toText(field.about);
    question.title.replace(0, 1, question.title.left(1).toUpper());
    question.choices = choicesFor(field, scene);
    const Json value = Json::parse(field.json);
    question.typed = field.kind == SlotKind::target || field.kind == SlotKind::names ? QString() : slotText(field);
    question.freeText = true;
    question.placeholder = placeholderOf(field);
    switch (field.kind) {
    case SlotKind::names:
    case SlotKind::words:
        question.many = true;
        question.takesNew = field.refers == scene::Refers::tag || field.refers == scene::Refers::group;
        question.freeText = false;
        question.typed.clear();
        if (value.is_string())
            question.chosen << QString::fromStdString(value.get<std::string>());
        else
            for (const Json& name : value)
                question.chosen << QString::fromStdString(name.get<std::string>());
        break;
    case SlotKind::word:
        question.freeText = false;
        question.typed.clear();
        question.chosen << (value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString());
        if (!field.required && field.set)
            question.choices.push_back({QString(), QObject::tr("not given"), {}, {}});
        break;
    case SlotKind::target:
        question.parts = true;
        question.typed = targetsTyped(value);
        break;
    default:
        break;
    }
    if (field.key == "text" && value.is_string())
        question.typed = textText(value);
    if (field.kind == SlotKind::lines && value.is_array()) {
        QStringList list;
        for (const Json& line : value)
            list << textText(line);
        question.typed = list.join(QStringLiteral(" / "));
    }
    const bool isOne = field.kind == SlotKind::number || field.kind == SlotKind::value;
    if (isOne)
        question.wrongAt = [isNumber = field.kind == SlotKind::number](const QString& typed) {
            return bareNumber(typed).isEmpty() ? notUnderstoodAt(typed, isNumber) : std::nullopt;
        };
    if (field.kind == SlotKind::named)
        question.wrongAt = namedFaultAt;
    if (check || question.wrongAt)
        question.check = [field, check, wrongAt = question.wrongAt](const QStringList& answer) {
            const QString typed = answer.isEmpty() ? QString() : answer.front();
            if (field.kind == SlotKind::named && valuesFaultAt(typed))
                return QObject::tr("Name = value, with commas between");
            if (const auto at = wrongAt ? wrongAt(typed) : std::nullopt)
                return notUnderstoodText(typed, *at, field.kind != SlotKind::number);
            const auto wrong = check ? check(jsonFrom(field, answer)) : std::nullopt;
            return wrong ? toText(*wrong) : QString();
        };
    return question;
}

Question wordsQuestion(const QString& title, const QString& typed)
{
    Question question;
    question.title = title;
    question.freeText = true;
    question.typed = typed;
    question.check = [](const QStringList& answer) {
        for (const std::string& word : wordsIn(answer.front()))
            if (!scene::isId(word))
                return QObject::tr("Letters, digits, - and _ only, with commas between");
        return QString();
    };
    return question;
}

std::string valueJson(const QString& typed)
{
    const QString text = typed.trimmed();
    if (looksLikePath(text))
        return Json{{"get", text.toStdString()}}.dump();
    if (const Json formula = formulaFrom(text); !formula.is_null())
        return formula.dump();
    return std::visit([](const auto& literal) { return Json(literal).dump(); }, literalFrom(text));
}

/// What was typed where a text is expected.
Json textJson(const QString& typed, bool mayBeWorkedOut)
{
    if (mayBeWorkedOut)
        if (Json formula = formulaInText(typed); !formula.is_null())
            return formula;
    const QString text = typed.trimmed();
    if (text.size() > 1 && text.startsWith(QLatin1Char('"')) && text.endsWith(QLatin1Char('"')))
        if (Json quoted = Json::parse(text.toStdString(), nullptr, false); quoted.is_string())
            return quoted;
    return typed.toStdString();
}

namespace {

/// "(3, same as self.load)" as a list.
std::string numbersJson(const QString& typed)
{
    QString inner = typed.trimmed();
    if (inner.isEmpty())
        return "null";
    if (inner.startsWith(QLatin1Char('(')) && inner.endsWith(QLatin1Char(')')))
        inner = inner.mid(1, inner.size() - 2);
    Json list = Json::array();
    for (const QString& part : inner.split(QLatin1Char(',')))
        list.push_back(Json::parse(valueJson(part)));
    return list.dump();
}

/// "name = value, name = value" as an object.
std::string namedJson(const QString& typed)
{
    Json object = Json::object();
    for (const QString& entry : partsOf(typed)) {
        const auto equals = entry.indexOf(QLatin1Char('='));
        if (equals < 0)
            return quoted(typed);
        object[entry.left(equals).trimmed().toStdString()] = Json::parse(valueJson(entry.mid(equals + 1)));
    }
    return object.dump();
}

std::string framesJson(const QString& typed)
{
    if (typed.trimmed().isEmpty())
        return "null";
    bool isNumber = false;
    if (const int count = typed.toInt(&isNumber); isNumber)
        return Json(count).dump();
    return listJson(typed.split(QLatin1Char(','), Qt::SkipEmptyParts));
}

} // namespace

std::string jsonFrom(const FieldView& field, const QStringList& answer)
{
    const QString first = answer.isEmpty() ? QString() : answer.front();
    switch (field.kind) {
    case SlotKind::flag:
        return first == QLatin1String("true") ? "true" : "false";
    case SlotKind::names:
    case SlotKind::words:
        return listJson(answer);
    case SlotKind::word:
        return first.isEmpty()                                                     ? "null"
               : first == QLatin1String("true") || first == QLatin1String("false") ? first.toStdString()
                                                                                   : quoted(first);
    case SlotKind::lines: {
        if (const Json formula = formulaInText(first); !formula.is_null())
            return formula.dump();
        Json list = Json::array();
        for (const QString& line : first.split(QStringLiteral(" / ")))
            list.push_back(textJson(line, true));
        return list.size() == 1 ? list.front().dump() : list.dump();
    }
    case SlotKind::target:
        if (answer.isEmpty() || (answer.size() == 1 && first.trimmed().isEmpty()))
            return "null";
        return answer.size() == 1 ? quoted(first) : listJson(answer);
    case SlotKind::number:
        if (const QString number = bareNumber(first); !number.isEmpty())
            return number.toDouble() == 0 ? "0" : Json(number.toDouble()).dump();
        if (first.trimmed().isEmpty() && !field.required)
            return "null";
        if (looksLikePath(first.trimmed()))
            return Json{{"get", first.trimmed().toStdString()}}.dump();
        if (const Json formula = formulaFrom(first); !formula.is_null())
            return formula.dump();
        return quoted(first);
    case SlotKind::value:
        return valueJson(first);
    case SlotKind::numbers:
        return numbersJson(first);
    case SlotKind::place:
    case SlotKind::point:
        if (first.trimmed().isEmpty() && !field.required)
            return "null";
        if (std::string point = pointJson(first); !point.empty())
            return point;
        if (const Json formula = formulaFrom(first); !formula.is_null())
            return formula.dump();
        if (const Json point = workedOutPoint(first); !point.is_null())
            return point.dump();
        return quoted(first);
    case SlotKind::named:
        return namedJson(first);
    case SlotKind::colour:
        return quoted(first.trimmed());
    case SlotKind::frames:
        return framesJson(first);
    case SlotKind::look:
        if (first.startsWith(QLatin1Char('#')))
            return Json{{"colour", first.trimmed().toStdString()}}.dump();
        [[fallthrough]];
    case SlotKind::text:
        return textJson(first, field.workedOut || field.kind == SlotKind::look).dump();
    case SlotKind::other:
        break;
    }
    return quoted(first);
}

} // namespace snare::app
