// SPDX-License-Identifier: Apache-2.0
/// A card with slots for the fields of structs, made from the field tables: what is set is shown
/// and changed, the rest is offered by one slot at the end.
#pragma once

#include "app/model/document.h"
#include "app/ui/sentence_card.h"
#include "io/field_access.h"

#include <functional>
#include <map>
#include <set>
#include <string>

namespace snare::app {

/// "climbSpeed" as "climb speed".
QString spoken(std::string_view key);

/// Where the fields of one struct are read and changed.
struct FieldSource {
    QString prefix;     ///< stands before the names of its slots, as "body "
    std::string kind;   ///< the word of the struct's table, as "dynamic"
    QString offerTitle; ///< of the panel that offers what is not set
    QString offerText = {}; ///< of the slot that offers it; else its first words
    std::function<std::vector<io::FieldView>()> views;
    /// Tries it on a copy: what is wrong with the value, or nothing.
    std::function<std::optional<std::string>(std::string_view key, const std::string& json)> test;
    /// Sets it: one step of undo.
    std::function<void(std::string_view key, const std::string& json)> set;
    std::set<std::string, std::less<>> always;    ///< shown even where they are as usual
    std::set<std::string, std::less<>> elsewhere; ///< shown by somebody else
    /// Asks for what the tables do not know how to ask for.
    std::map<std::string, std::function<void(QWidget* anchor)>, std::less<>> byHand;
    /// How such a field reads.
    std::map<std::string, std::function<QString()>, std::less<>> shownByHand;
};

/// A source over a struct that can be found again, or not any more: `get` is nullptr then.
template <class T>
FieldSource fieldsFrom(const QString& prefix, std::function<const T*()> get,
                       std::function<void(const std::function<void(T&)>& change)> edit)
{
    FieldSource source;
    source.prefix = prefix;
    source.views = [get] { return get() ? io::fieldsOf(*get()) : std::vector<io::FieldView>{}; };
    source.test = [get](std::string_view key, const std::string& json) -> std::optional<std::string> {
        if (!get())
            return std::nullopt;
        T trial = *get();
        return io::setField(trial, key, json);
    };
    source.set = [edit](std::string_view key, const std::string& json) {
        edit([key = std::string(key), json](T& value) { io::setField(value, key, json); });
    };
    return source;
}

/// How the facts of a timer read: "again and again", "from the start".
std::map<std::string, std::function<QString()>, std::less<>>
timerWords(const std::function<const scene::TimerSource*()>& get);

class FieldCard : public SentenceCard {
    Q_OBJECT

  public:
    FieldCard(Document& document, QWidget* parent) : SentenceCard(parent), document_(document) {}

  protected:
    /// Slots for all that is set, and one, called "add SLOTS", that offers the rest, with what
    /// stands `before` that.
    void fieldSlots(FlowLayout* line, const FieldSource& source, const QStringList& before = {},
                    const std::function<void(const QString&)>& chosenBefore = {});
    void askField(const FieldSource& source, const std::string& key, QWidget* anchor);
    Document& document_;
};

} // namespace snare::app
