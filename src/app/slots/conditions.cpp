// SPDX-License-Identifier: Apache-2.0
#include "app/slots/conditions.h"

#include "app/slots/slot_fill.h"
#include "app/ui/words.h"

#include <QObject>

namespace snare::app {

const ConditionRow* conditionRow(const QString& key)
{
    return words::conditionRow(key.toStdString());
}

std::vector<Phrase> filterPhrases(const scene::Snare& snare)
{
    std::vector<Phrase> phrases;
    for (const words::Phrase& phrase : words::filterPhrases(snare))
        phrases.push_back({toText(phrase.key), toText(phrase.text)});
    return phrases;
}

std::vector<Offer> filterOffers(const scene::Snare& snare)
{
    std::vector<Offer> offers;
    bool compares = false;
    const auto addComparison = [&] { // between the filter and the gate
        if (!std::exchange(compares, true))
            offers.push_back({QStringLiteral("when"), QObject::tr("a value compares"),
                              QObject::tr("condition property variable number equals")});
    };
    for (const ConditionRow* row : words::offeredRows(snare)) {
        if (row->part == SnarePart::gate)
            addComparison();
        offers.push_back({toText(row->key), toText(row->offer), toText(row->words)});
    }
    addComparison();
    return offers;
}

QString plainSentence(const scene::Snare& snare)
{
    QStringList words{toText(snare.id),
                      toText(snare.note),
                      visitorText(snare),
                      eventText(snare.catches),
                      whereText(snare.catches),
                      toText(snare.catches.key),
                      toText(snare.catches.source),
                      toText(snare.catches.signal)};
    for (const Phrase& phrase : filterPhrases(snare))
        words << phrase.text;
    for (const scene::Response& response : snare.responses) {
        words << toText(scene::wordOfResponse(response.kind).key);
        for (const io::FieldView& field : io::fieldsOf(response))
            if (field.set || field.required)
                words << slotText(field);
    }
    return words.join(QLatin1Char(' '));
}

} // namespace snare::app
