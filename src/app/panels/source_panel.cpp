// SPDX-License-Identifier: Apache-2.0
#include "app/panels/source_panel.h"

#include "app/slots/naming.h"
#include "app/slots/slot_fill.h"
#include "app/ui/flow_layout.h"
#include "app/ui/key_names.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"

#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>

namespace snare::app {

SourcePanel* SourcePanel::open(QWidget* anchor, Document& document, const std::string& source)
{
    auto* panel = new SourcePanel{anchor, document, source};
    panel->openAt(anchor);
    return panel;
}

SourcePanel::SourcePanel(QWidget* anchor, Document& document, std::string source)
    : FieldPanel(anchor, document), id_(std::move(source))
{
}

const scene::Source* SourcePanel::source() const
{
    return scene::findSource(document_.scene(), id_);
}

QString SourcePanel::title() const
{
    if (kind<scene::TimerSource>())
        return tr("Timer %1").arg(toText(id_));
    if (kind<scene::DialSource>())
        return tr("Dial %1").arg(toText(id_));
    if (kind<scene::CallSource>())
        return tr("Call %1").arg(toText(id_));
    return kind<scene::KeySource>() ? tr("Keys %1").arg(toText(id_)) : QString();
}

void SourcePanel::changeSource(const std::function<void(scene::Source&)>& change)
{
    document_.edit(tr("Change source %1").arg(toText(id_)), [&](scene::Scene& scene) {
        const auto found = std::ranges::find(scene.sources, id_, &scene::Source::id);
        if (found != scene.sources.end())
            change(*found);
    });
}

void SourcePanel::fill(QVBoxLayout* column)
{
    FlowLayout* line = row(column, tr("name"));
    SlotButton* name = slot(line, QStringLiteral("name"), toText(id_));
    mark(name, "source", "id");
    connect(name, &SlotButton::clicked, this, [this, name] {
        askForName(name, document_, scene::Thing::source, id_, [this](const std::string& to) {
            id_ = to;
            rebuild();
        });
    });
    if (kind<scene::TimerSource>())
        fillTimer(column);
    else if (kind<scene::DialSource>())
        fillFields<scene::DialSource>(column, {});
    else if (kind<scene::CallSource>())
        fillCall(column);
    else
        fillKeys(column);
    fillFoot(column);
}

template <class Kind> void SourcePanel::fillFields(QVBoxLayout* column, FieldSource given)
{
    FieldSource fields = fieldsFrom<Kind>(
        QStringLiteral("source "), [this] { return kind<Kind>(); },
        [this](const std::function<void(Kind&)>& change) {
            changeSource([&](scene::Source& source) {
                if (auto* of = std::get_if<Kind>(&source.kind))
                    change(*of);
            });
        });
    fields.kind = std::string(scene::fieldsOf<Kind>.word.key);
    fields.shownByHand = std::move(given.shownByHand);
    for (const io::FieldView& field : fields.views())
        fields.always.insert(std::string(field.key));
    fieldSlots(row(column, tr("is")), fields);
}

void SourcePanel::fillTimer(QVBoxLayout* column)
{
    FieldSource fields;
    fields.shownByHand = timerWords([this] { return kind<scene::TimerSource>(); });
    fillFields<scene::TimerSource>(column, fields);
}

void SourcePanel::fillCall(QVBoxLayout* column)
{
    const auto* call = kind<scene::CallSource>();
    FlowLayout* line = row(column, tr("called"));
    SlotButton* name = slot(line, QStringLiteral("call name"), toText(call->name));
    mark(name, "call", "name");
    connect(name, &SlotButton::clicked, this, [this, name, called = call->name] {
        askForName(name, document_, scene::Thing::call, called, [](const std::string&) {});
    });
    line = row(column, tr("carries"));
    SlotButton* values =
        slot(line, QStringLiteral("call values"), call->values.empty() ? QStringLiteral("+") : valuesText(call->values),
             call->values.empty() ? SlotButton::Kind::offer : SlotButton::Kind::filled);
    mark(values, "call", "values");
    connect(values, &SlotButton::clicked, this, [this, values] { editCallValues(values); });
}

void SourcePanel::editCallValues(QWidget* anchor)
{
    const auto* call = kind<scene::CallSource>();
    if (!call)
        return;
    Question question;
    question.title = tr("Values that it carries when it is made by hand");
    question.placeholder = QStringLiteral("vessel = ketch, near = 3");
    question.freeText = true;
    question.typed = valuesText(call->values);
    question.wrongAt = valuesFaultAt;
    question.check = [](const QStringList& answer) {
        return valuesFrom(answer.front()) ? QString() : tr("Name = value, with commas between");
    };
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        changeSource([&](scene::Source& source) {
            if (auto* of = std::get_if<scene::CallSource>(&source.kind))
                of->values = *valuesFrom(answer.front());
        });
    });
}

/// A slot for each key, which takes it out; and one that takes the next key that is pressed.
void SourcePanel::fillKeys(QVBoxLayout* column)
{
    const auto* set = kind<scene::KeySource>();
    FlowLayout* line = row(column, tr("keys"));
    const auto changeKeys = [this](const std::function<void(std::vector<std::string>&)>& change) {
        changeSource([&](scene::Source& source) {
            if (auto* of = std::get_if<scene::KeySource>(&source.kind))
                change(of->keys);
        });
    };
    for (const std::string& key : set->keys) {
        SlotButton* button = slot(line, QStringLiteral("key ") + toText(key), keyLabel(toText(key)));
        mark(button, "key", "keys");
        button->setToolTip(set->keys.size() > 1 ? tr("Take it out of the set") : tr("The last key of a set stays"));
        button->setEnabled(set->keys.size() > 1);
        connect(button, &SlotButton::clicked, this,
                [changeKeys, key] { changeKeys([&](std::vector<std::string>& keys) { std::erase(keys, key); }); });
    }
    SlotButton* add = slot(line, QStringLiteral("add key"), tr("+ key"), SlotButton::Kind::offer);
    connect(add, &SlotButton::clicked, this, [this, add, changeKeys] {
        Question question;
        question.title = tr("Another key that means the same");
        question.choices = keyChoices(document_.scene());
        question.takesKey = true;
        SlotPopup::ask(add, question, [changeKeys](const QStringList& answer) {
            changeKeys([&](std::vector<std::string>& keys) {
                const std::string key = answer.front().toStdString();
                if (!key.empty() && key != "any" && std::ranges::find(keys, key) == keys.end())
                    keys.push_back(key);
            });
        });
    });
}

/// Who listens to it, and taking it away.
void SourcePanel::fillFoot(QVBoxLayout* column)
{
    const std::size_t mentions = scene::countMentions(document_.scene(), scene::Thing::source, id_);
    auto* line = new QHBoxLayout;
    auto* heard =
        new QLabel{mentions == 0 ? tr("Nothing mentions it yet.")
                                 : tr("%1 in the scene").arg(counted(mentions, tr("mention"), tr("mentions"))),
                   body()};
    heard->setFont(textFont());
    colourText(heard, &Theme::inkSoft);
    line->addWidget(heard, 1);
    auto* away = new SlotButton{tr("remove"), SlotButton::Kind::offer, body()};
    away->setObjectName(QStringLiteral("remove source"));
    connect(away, &SlotButton::clicked, this, &SourcePanel::remove);
    line->addWidget(away);
    column->addLayout(line);
}

void SourcePanel::remove()
{
    document_.edit(tr("Remove source %1").arg(toText(id_)), [&](scene::Scene& scene) {
        std::erase_if(scene.sources, [&](const scene::Source& one) { return one.id == id_; });
    });
}

} // namespace snare::app
