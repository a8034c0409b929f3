// SPDX-License-Identifier: Apache-2.0
#include "app/cards/thread_popup.h"

#include "app/ui/key_names.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"
#include "io/field_access.h"

#include <fmt/format.h>

#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QScrollBar>

namespace snare::app {

namespace {

QListWidget* makeList(QWidget* parent, const QString& name)
{
    auto* list = new QListWidget{parent};
    list->setObjectName(name);
    list->setAccessibleName(name);
    list->setFrameShape(QFrame::NoFrame);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    dress(list, [] {
        return QStringLiteral("QListWidget { background: transparent; } QListWidget::item { padding: 3px 6px; "
                              "border-radius: 4px; }"
                              "QListWidget::item:selected { background: %1; color: %2; }"
                              "QListWidget::item:hover:!selected { background: %3; }")
            .arg(theme().mint.name(), theme().onAccent.name(), theme().panelDeep.name());
    });
    return list;
}

void addItem(QListWidget* list, std::string_view value, const QString& text, const QString& about)
{
    auto* item = new QListWidgetItem{text, list};
    item->setData(Qt::UserRole, toText(value));
    item->setToolTip(about);
}

} // namespace

ThreadPopup::ThreadPopup(const scene::Scene& scene, Start start, std::size_t to, std::function<void(scene::Snare)> made,
                         QWidget* parent)
    : QFrame(parent, Qt::Popup), scene_(scene), start_(std::move(start)), to_(to), made_(std::move(made))
{
    setObjectName(QStringLiteral("threadPopup"));
    setAttribute(Qt::WA_DeleteOnClose);
    dress(this, [] {
        return QStringLiteral("#threadPopup { background: %1; border: 1px solid %2; }")
            .arg(theme().panel.name(), theme().hairline.name());
    });
    auto* grid = new QGridLayout{this};
    grid->setContentsMargins(10, 8, 10, 10);
    grid->setHorizontalSpacing(14);
    const scene::Piece& target = scene_.pieces[to_];
    auto* when = new QLabel{start_.piece            ? tr("When, at %1,").arg(toText(scene_.pieces[*start_.piece].id))
                            : start_.source.empty() ? tr("When %1").arg(keyLabel(toText(start_.key)))
                                                    : tr("When %1").arg(toText(start_.source)),
                            this};
    auto* then = new QLabel{tr("then %1").arg(toText(target.id)), this};
    when->setFont(textFont(0, true));
    then->setFont(textFont(0, true));
    events_ = makeList(this, QStringLiteral("threadEvents"));
    responses_ = makeList(this, QStringLiteral("threadResponses"));
    if (start_.piece)
        fillEvents();
    else
        fillSourceEvents();
    fillResponses(target);
    for (QListWidget* list : {events_, responses_})
        list->setFixedHeight(9 * std::max(22, list->sizeHintForRow(0)) + 4);
    for (QListWidget* list : {events_, responses_}) // nothing is cut
        list->setFixedWidth(list->sizeHintForColumn(0) + list->verticalScrollBar()->sizeHint().width() + 8);
    grid->addWidget(when, 0, 0);
    grid->addWidget(then, 0, 1);
    grid->addWidget(events_, 1, 0);
    grid->addWidget(responses_, 1, 1);
    events_->setCurrentRow(0);
    connect(responses_, &QListWidget::itemClicked, this, &ThreadPopup::make);
    connect(responses_, &QListWidget::itemActivated, this, &ThreadPopup::make);
    connect(events_, &QListWidget::itemActivated, this, [this] {
        responses_->setFocus();
        responses_->setCurrentRow(0);
    });
    events_->setFocus();
}

void ThreadPopup::fillSourceEvents()
{
    const scene::Source* source = scene::findSource(scene_, start_.source);
    scene::EventFamily family = scene::EventFamily::key;
    if (source && std::holds_alternative<scene::TimerSource>(source->kind))
        family = scene::EventFamily::timer;
    if (source && std::holds_alternative<scene::DialSource>(source->kind))
        family = scene::EventFamily::watch;
    if (source && std::holds_alternative<scene::CallSource>(source->kind))
        family = scene::EventFamily::call;
    for (const auto& entry : scene::wordsOf<scene::EventKind>)
        if (entry.family == family)
            addItem(events_, entry.word, toText(entry.verb), toText(entry.about));
}

void ThreadPopup::fillEvents()
{
    const scene::Piece& from = scene_.pieces[*start_.piece];
    const std::size_t shape = start_.shape;
    const bool zone = shape < from.shapes.size() && from.shapes[shape].role == scene::Role::zone;
    const bool moves = std::holds_alternative<scene::KinematicBody>(from.body);
    for (const auto& entry : scene::wordsOf<scene::EventKind>) {
        const bool contact =
            entry.family == scene::EventFamily::contact && !(zone && entry.value == scene::EventKind::hit);
        const bool piece = entry.value == scene::EventKind::removed ||
                           (entry.value == scene::EventKind::arrived && moves) ||
                           (entry.value == scene::EventKind::strays && moves && scene_.bounds) ||
                           (entry.family == scene::EventFamily::phase && !from.phases.empty());
        if (contact)
            addItem(events_, entry.word, tr("a visitor %1").arg(toText(entry.verb)), toText(entry.about));
        else if (piece)
            addItem(events_, entry.word, tr("it %1").arg(toText(entry.verb)), toText(entry.about));
    }
    for (const auto& entry : scene::wordsOf<scene::EventKind>) {
        using scene::EventKind;
        const bool common = entry.value == EventKind::click || entry.value == EventKind::down ||
                            entry.value == EventKind::doubled || entry.value == EventKind::dragBegin ||
                            entry.value == EventKind::dragEnd;
        if (common)
            addItem(events_, entry.word, tr("the pointer %1 it").arg(toText(entry.verb)), toText(entry.about));
        else if (entry.value == EventKind::drop)
            addItem(events_, entry.word, tr("something is dropped on it"), toText(entry.about));
    }
    addItem(events_, "key-down", tr("a key is pressed"), tr("a key is pressed anywhere"));
    addItem(events_, "heard", tr("a signal is heard"), tr("a signal is raised"));
}

void ThreadPopup::fillResponses(const scene::Piece& to)
{
    const bool kinematic = std::holds_alternative<scene::KinematicBody>(to.body);
    const auto offer = [&](std::string_view key) {
        for (const scene::Word* word : io::responseWords())
            if (word->key == key)
                addItem(responses_, key, toText(key) + QStringLiteral("  –  ") + toText(word->about),
                        toText(word->about));
    };
    // What makes sense for this target first.
    if (kinematic)
        for (const char* key : {"turn", "move", "chase", "stop"})
            offer(key);
    if (!to.phases.empty())
        offer("phase");
    for (const char* key : {"say", "show", "hide"})
        offer(key);
    if (!to.looks.empty())
        offer("look");
    for (const char* key : {"set", "add", "put", "enable", "disable", "tag", "regroup", "remove"})
        offer(key);
}

void ThreadPopup::make()
{
    const QListWidgetItem* event = events_->currentItem();
    const QListWidgetItem* what = responses_->currentItem();
    if (!event || !what)
        return;
    const scene::Piece& to = scene_.pieces[to_];
    const std::string word = what->data(Qt::UserRole).toString().toStdString();
    scene::Snare snare;
    for (const auto& entry : scene::wordsOf<scene::EventKind>)
        if (toText(entry.word) == event->data(Qt::UserRole).toString())
            snare.catches.event.items = {entry.value};
    if (start_.piece) {
        const scene::Piece& from = scene_.pieces[*start_.piece];
        snare.catches.at = from.id;
        if (from.shapes.size() > 1 && start_.shape < from.shapes.size())
            snare.catches.shape = scene::shapeName(from, start_.shape);
        if (snare.catches.event.items.front() == scene::EventKind::keyDown)
            snare.catches.key = "e";
    }
    snare.catches.source = start_.source;
    const scene::Source* source = scene::findSource(scene_, start_.source);
    if (const auto* dial = source ? std::get_if<scene::DialSource>(&source->kind) : nullptr)
        snare.catches.level = (dial->low + dial->high) / 2;
    if (const auto* call = source ? std::get_if<scene::CallSource>(&source->kind) : nullptr) {
        snare.catches.source.clear();
        snare.catches.name = call->name;
    }
    if (!start_.key.empty())
        snare.catches.key = start_.key;
    snare.id = scene::freeId(scene_, fmt::format("{}-{}", word, to.id));
    auto response = io::responseOf(word);
    if (!response)
        return;
    // Something that can be seen at once; the card is there to change it.
    const std::string on = start_.piece == to_ ? "self" : to.id;
    std::visit(
        [&]<class R>(R& kind) {
            if constexpr (requires { kind.on; })
                kind.on = scene::Target{{on}};
            if constexpr (std::is_same_v<R, scene::Turn>)
                kind.by = 90;
            if constexpr (std::is_same_v<R, scene::Move>)
                kind.by = scene::Vec{2, 0};
            if constexpr (std::is_same_v<R, scene::Put>)
                kind.at = scene::Destination{std::string("home")};
            if constexpr (std::is_same_v<R, scene::Say>)
                kind.text.items = {"Hello"};
            if constexpr (std::is_same_v<R, scene::Set> || std::is_same_v<R, scene::Add>)
                kind.name = "count";
            if constexpr (std::is_same_v<R, scene::Tag>)
                kind.tag = "marked";
            if constexpr (std::is_same_v<R, scene::Regroup>)
                kind.group = "default";
            if constexpr (std::is_same_v<R, scene::Prompt>)
                kind.text = "Press E";
        },
        response->kind);
    snare.responses.push_back(std::move(*response));
    const auto made = std::exchange(made_, nullptr);
    close();
    if (made)
        made(std::move(snare));
}

} // namespace snare::app
