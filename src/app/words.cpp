// SPDX-License-Identifier: Apache-2.0
#include "app/words.h"

#include <QObject>
#include <QRegularExpression>

namespace snare::app {

QString toText(std::string_view text)
{
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

QString joined(const std::vector<std::string>& list, const QString& last)
{
    QString result;
    for (std::size_t i = 0; i < list.size(); ++i)
        result += (i == 0                 ? QString()
                   : i + 1 == list.size() ? QStringLiteral(" %1 ").arg(last)
                                          : QStringLiteral(", ")) +
                  toText(list[i]);
    return result;
}

QString targetText(std::string_view name)
{
    if (name == "self")
        return QObject::tr("itself");
    if (name == "visitor")
        return QObject::tr("the visitor");
    if (name == "sender")
        return QObject::tr("the sender");
    if (name == "scene")
        return QObject::tr("the scene");
    if (name.starts_with("tag:"))
        return QObject::tr("all tagged %1").arg(toText(name.substr(4)));
    if (name.starts_with("group:"))
        return QObject::tr("all of group %1").arg(toText(name.substr(6)));
    if (name.starts_with("template:"))
        return QObject::tr("all of template %1").arg(toText(name.substr(9)));
    return toText(name);
}

QString numberText(double number, scene::Unit unit)
{
    const QString figure = QString::number(number, 'g', 9);
    const QString symbol = toText(scene::symbolOf(unit));
    if (symbol.isEmpty())
        return figure;
    return unit == scene::Unit::degrees ? figure + symbol : figure + QLatin1Char(' ') + symbol;
}

QString pair(const scene::Vec& v)
{
    return QStringLiteral("%1, %2").arg(v.x).arg(v.y);
}

std::optional<std::vector<double>> numbersIn(const QString& typed, int count)
{
    static const QRegularExpression number{QStringLiteral(R"(-?[0-9]*\.?[0-9]+)")};
    std::vector<double> found;
    for (auto match = number.globalMatch(typed); match.hasNext();)
        found.push_back(match.next().captured().toDouble());
    return static_cast<int>(found.size()) == count ? std::optional(found) : std::nullopt;
}

QString counted(std::size_t count, const QString& one, const QString& many)
{
    return QStringLiteral("%1 %2").arg(count).arg(count == 1 ? one : many);
}

QString countedPieces(std::size_t count)
{
    return counted(count, QObject::tr("piece"), QObject::tr("pieces"));
}

QString withArticle(const QString& noun)
{
    const bool vowel = !noun.isEmpty() && QStringLiteral("aeiou").contains(noun.front().toLower());
    return (vowel ? QObject::tr("an %1") : QObject::tr("a %1")).arg(noun);
}

std::vector<Phrase> filterPhrases(const scene::Snare& snare)
{
    std::vector<Phrase> phrases;
    const scene::Filter& filter = snare.filter;
    const scene::Gate& gate = snare.gate;
    const QString orWord = QObject::tr("or");
    if (!filter.tags.any.empty())
        phrases.push_back({QStringLiteral("tags.any"), QObject::tr("has tag %1").arg(joined(filter.tags.any, orWord))});
    if (!filter.tags.all.empty())
        phrases.push_back(
            {QStringLiteral("tags.all"), QObject::tr("has tags %1").arg(joined(filter.tags.all, QObject::tr("and")))});
    if (!filter.tags.none.empty())
        phrases.push_back(
            {QStringLiteral("tags.none"), QObject::tr("is not tagged %1").arg(joined(filter.tags.none, orWord))});
    if (!filter.pieces.empty())
        phrases.push_back({QStringLiteral("pieces"), QObject::tr("it is %1").arg(joined(filter.pieces, orWord))});
    for (std::size_t i = 0; i < filter.when.size(); ++i) {
        phrases.push_back({QStringLiteral("when.%1").arg(i), conditionText(filter.when[i])});
    }
    if (gate.limit)
        phrases.push_back({QStringLiteral("limit"),
                           (*gate.limit == 1 ? QObject::tr("once") : QObject::tr("%1 times").arg(*gate.limit))});
    if (gate.each == scene::Each::visitor)
        phrases.push_back({QStringLiteral("each"), QObject::tr("per visitor")});
    if (gate.dwell)
        phrases.push_back(
            {QStringLiteral("dwell"), QObject::tr("after %1").arg(numberText(*gate.dwell, scene::Unit::seconds))});
    if (gate.cooldown)
        phrases.push_back({QStringLiteral("cooldown"),
                           QObject::tr("not again for %1").arg(numberText(*gate.cooldown, scene::Unit::seconds))});
    if (gate.catchUp)
        phrases.push_back({QStringLiteral("catchUp"), QObject::tr("also those inside when armed")});
    return phrases;
}

std::vector<Offer> filterOffers(const scene::Snare& snare)
{
    std::vector<Offer> offers;
    const auto offer = [&](bool missing, const char* key, const QString& text, const QString& words) {
        if (missing)
            offers.push_back({QLatin1String(key), text, words});
    };
    const scene::Filter& filter = snare.filter;
    const scene::Gate& gate = snare.gate;
    offer(filter.tags.any.empty(), "tags.any", QObject::tr("the visitor has a tag"), QObject::tr("filter kind who"));
    offer(filter.tags.all.empty(), "tags.all", QObject::tr("the visitor has all of some tags"),
          QObject::tr("filter kind who"));
    offer(filter.tags.none.empty(), "tags.none", QObject::tr("the visitor has none of some tags"),
          QObject::tr("filter not except who"));
    offer(filter.pieces.empty(), "pieces", QObject::tr("the visitor is a certain piece"),
          QObject::tr("filter who name"));
    offer(true, "when", QObject::tr("a value compares"), QObject::tr("condition property variable number equals"));
    offer(!gate.limit, "limit", QObject::tr("once, or a number of times"), QObject::tr("limit only count shot"));
    offer(!gate.dwell, "dwell", QObject::tr("after staying for a while"), QObject::tr("dwell wait delay linger"));
    offer(!gate.cooldown, "cooldown", QObject::tr("not again for a while"), QObject::tr("cooldown pause repeat often"));
    offer(gate.each == scene::Each::snare && (gate.limit || gate.cooldown), "each",
          QObject::tr("counted for each visitor"), QObject::tr("per"));
    offer(snare.again == scene::Again::restart, "again",
          QObject::tr("what it does when it springs while it still runs"), QObject::tr("again stack ignore running"));
    offer(!gate.catchUp, "catchUp", QObject::tr("when armed, also for those inside"), QObject::tr("catch up already"));
    return offers;
}

QString conditionText(const scene::Condition& condition)
{
    const scene::Scalar* literal = condition.right.literal();
    const QString right =
        literal ? toText(scene::textOf(*literal)) : toText(std::get<scene::Get>(condition.right.held).path);
    return QStringLiteral("%1 %2 %3").arg(toText(condition.left), toText(scene::wordOf(condition.is)), right);
}

std::optional<scene::Condition> conditionFrom(const QString& typed)
{
    for (const char* sign : {"!=", "<=", ">=", "=", "<", ">"}) {
        const auto at = typed.indexOf(QLatin1String(sign));
        if (at <= 0)
            continue;
        scene::Condition condition;
        condition.left = typed.left(at).trimmed().toStdString();
        for (const auto& entry : scene::wordsOf<scene::Comparison>)
            if (entry.word == sign)
                condition.is = entry.value;
        const QString right = typed.mid(at + static_cast<qsizetype>(qstrlen(sign))).trimmed();
        if (right.isEmpty() || condition.left.find('.') == std::string::npos)
            return std::nullopt;
        bool number = false;
        const double value = right.toDouble(&number);
        if (number)
            condition.right = scene::Scalar{value};
        else if (right == QLatin1String("true") || right == QLatin1String("false"))
            condition.right = scene::Scalar{right == QLatin1String("true")};
        else if (right.contains(QLatin1Char('.')))
            condition.right = scene::Get{right.toStdString()};
        else
            condition.right = scene::Scalar{right.toStdString()};
        return condition;
    }
    return std::nullopt;
}

QString visitorText(const scene::Snare& snare)
{
    if (snare.filter.groups.empty())
        return QObject::tr("anyone");
    return withArticle(joined(snare.filter.groups, QObject::tr("or")));
}

QString whereText(const scene::Catch& catches)
{
    if (catches.at.empty() || catches.at == "scene")
        return QObject::tr("the scene");
    if (catches.at.starts_with("tag:"))
        return QObject::tr("any tagged %1").arg(toText(std::string_view(catches.at).substr(4)));
    if (catches.at.starts_with("group:"))
        return QObject::tr("any of group %1").arg(toText(std::string_view(catches.at).substr(6)));
    if (catches.at.starts_with("template:"))
        return QObject::tr("any of template %1").arg(toText(std::string_view(catches.at).substr(9)));
    return catches.shape.empty() ? toText(catches.at)
                                 : QObject::tr("%1 of %2").arg(toText(catches.shape), toText(catches.at));
}

QString eventText(const scene::Catch& catches)
{
    QStringList verbs;
    for (const scene::EventKind kind : catches.event.items)
        verbs << toText(scene::wordFor(kind).verb);
    return verbs.join(QObject::tr(" or "));
}

} // namespace snare::app
