// SPDX-License-Identifier: Apache-2.0
#include "app/panels/source_shelf.h"

#include "app/ui/accessible.h"
#include "app/panels/source_panel.h"
#include "app/ui/key_names.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/value_text.h"
#include "app/ui/words.h"

#include <fmt/format.h>

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

namespace snare::app {

// --- pill ----------------------------------------------------------------------------------------------------------

SourcePill::SourcePill(QString text, bool offer, QWidget* parent)
    : QWidget(parent), text_(std::move(text)), offer_(offer)
{
    giveRole(this, QAccessible::Button, text_);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setFont(textFont(-0.5));
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
}

void SourcePill::setLive(bool live)
{
    if (live == live_)
        return;
    live_ = live;
    update();
}

QSize SourcePill::sizeHint() const
{
    return {QFontMetrics{font()}.horizontalAdvance(text_) + 22, QFontMetrics{font()}.height() + 8};
}

void SourcePill::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter painter{this};
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF{rect()}.adjusted(1, 1, -1, -1);
    painter.setBrush(live_    ? QColor(t.coral.red(), t.coral.green(), t.coral.blue(), 40)
                     : offer_ ? QColor(Qt::transparent)
                              : t.paper);
    painter.setPen(QPen{live_        ? t.coral
                        : hasFocus() ? t.mint
                                     : t.hairline,
                        live_ || hasFocus() ? 1.8 : 1.0, offer_ ? Qt::DashLine : Qt::SolidLine});
    painter.drawRoundedRect(box, box.height() / 2, box.height() / 2);
    painter.setPen(offer_ ? t.inkSoft : live_ ? t.coralText : t.ink);
    painter.setFont(font());
    painter.drawText(box, Qt::AlignCenter, text_);
}

void SourcePill::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        emit pressed();
}

void SourcePill::mouseMoveEvent(QMouseEvent* event)
{
    // Off the pill it is a thread being drawn; what was pressed is let go.
    if (!(event->buttons() & Qt::LeftButton) || offer_ || (!dragging_ && rect().contains(event->position().toPoint())))
        return;
    if (!std::exchange(dragging_, true))
        emit released();
    emit dragged(event->globalPosition().toPoint());
}

void SourcePill::mouseReleaseEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton)
        return;
    if (std::exchange(dragging_, false))
        emit dropped(event->globalPosition().toPoint());
    else
        emit released();
    if (rect().contains(event->position().toPoint()))
        emit clicked();
}

void SourcePill::wheelEvent(QWheelEvent* event)
{
    constexpr int oneStep = 120;
    const int steps = event->angleDelta().y() / oneStep;
    if (receivers(SIGNAL(turned(int))) == 0)
        return event->ignore(); // the shelf scrolls
    if (steps != 0)
        emit turned(steps);
}

void SourcePill::setText(const QString& text)
{
    if (text == text_)
        return;
    text_ = text;
    updateGeometry();
    update();
}

void SourcePill::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) {
        if (!event->isAutoRepeat())
            emit pressed();
        return;
    }
    QWidget::keyPressEvent(event);
}

void SourcePill::keyReleaseEvent(QKeyEvent* event)
{
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) && !event->isAutoRepeat()) {
        emit released();
        emit clicked();
    } else
        QWidget::keyReleaseEvent(event);
}

// --- shelf ---------------------------------------------------------------------------------------------------------

SourceShelf::SourceShelf(Document& document, Stage& stage, QWidget* parent)
    : QWidget(parent), document_(document), stage_(stage)
{
    setObjectName(QStringLiteral("shelf"));
    setAccessibleName(tr("Sources"));
    setFixedHeight(34);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panelDeep); });
    auto* layout = new QHBoxLayout{this};
    layout->setContentsMargins(10, 0, 8, 0);
    connect(&document_, &Document::changed, this, &SourceShelf::refresh);
    connect(&stage_, &Stage::cursorChanged, this, &SourceShelf::refreshLive);
    connect(&stage_, &Stage::recordChanged, this, &SourceShelf::refreshLive);
    refresh();
}

SourceShelf::Entry& SourceShelf::add(const QString& text, const QString& tip)
{
    auto* pill = new SourcePill{text, false, row_};
    pill->setToolTip(tip);
    row_->layout()->addWidget(pill);
    return entries_.emplace_back(Entry{pill, {}, {}});
}

namespace {

/// How walkers are steered: the name of a set, else of the walker, and its keys.
std::vector<std::pair<std::string, std::vector<std::string>>> steeringIn(const scene::Scene& scene)
{
    std::vector<std::pair<std::string, std::vector<std::string>>> steering;
    for (const scene::Piece& piece : scene.pieces)
        if (const auto* walker = std::get_if<scene::WalkerBody>(&piece.body)) {
            const auto* set = std::get_if<scene::SteerSet>(&walker->steer.held);
            const std::string name = set ? std::string(scene::wordOf(*set)) : piece.id;
            if (name == "none" ||
                std::ranges::find(steering, name, [](const auto& entry) { return entry.first; }) != steering.end())
                continue;
            const scene::KeyLists keys = scene::keysOf(walker->steer);
            std::vector<std::string> all;
            for (const auto* list : {&keys.left, &keys.right, &keys.up, &keys.down})
                all.insert(all.end(), list->begin(), list->end());
            steering.emplace_back(name, std::move(all));
        }
    return steering;
}

/// The keys that snares catch by their own name.
std::vector<std::string> singleKeysIn(const scene::Scene& scene)
{
    std::vector<std::string> single;
    for (const scene::Snare& snare : scene.snares)
        if (!snare.catches.key.empty() && snare.catches.key != "any" &&
            std::ranges::find(single, snare.catches.key) == single.end())
            single.push_back(snare.catches.key);
    return single;
}

/// All that the shelf shows of a source.
std::string inWords(const scene::Source& source)
{
    std::string what = fmt::format("source {}", source.id);
    if (const auto* timer = std::get_if<scene::TimerSource>(&source.kind))
        what += fmt::format(" {}", timer->every);
    else if (const auto* set = std::get_if<scene::KeySource>(&source.kind))
        for (const std::string& key : set->keys)
            what += fmt::format(" {}", key);
    else if (const auto* dial = std::get_if<scene::DialSource>(&source.kind))
        what += fmt::format(" dial {} {}", dial->low, dial->high);
    else
        what += " call";
    return what;
}

} // namespace

void SourceShelf::refresh()
{
    const scene::Scene& scene = document_.scene();
    const auto steering = steeringIn(scene);
    const std::vector<std::string> single = singleKeysIn(scene);
    // What the shelf shows, in words: it is built anew only when that changes.
    std::vector<std::string> wanted;
    wanted.reserve(steering.size() + single.size() + scene.sources.size());
    for (const auto& [name, keys] : steering)
        wanted.push_back(fmt::format("steer {}", name));
    for (const std::string& key : single)
        wanted.push_back(fmt::format("key {}", key));
    for (const scene::Source& source : scene.sources)
        wanted.push_back(inWords(source));
    if (row_ && wanted == shownAs_)
        return;
    shownAs_ = std::move(wanted);
    entries_.clear();
    if (row_) {
        row_->hide();
        row_->deleteLater();
    }
    row_ = new QWidget{this};
    layout()->addWidget(row_);
    auto* row = new QHBoxLayout{row_};
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    auto* title = new QLabel{tr("Sources"), row_};
    colourText(title, &Theme::inkSoft);
    row->addWidget(title);
    for (const auto& [name, keys] : steering) {
        Entry& entry = add(name == "wasd"     ? tr("keys W A S D")
                           : name == "arrows" ? tr("arrow keys")
                                              : tr("keys of %1").arg(toText(name)),
                           tr("Steers a walker; glows while one of them is down"));
        entry.keys = keys;
    }
    for (const std::string& name : single) {
        Entry& entry =
            add(tr("key %1").arg(keyLabel(toText(name))), tr("While recording, press it here or on the keyboard"));
        entry.keys = {name};
        letPress(entry);
        letDrag(entry.pill, {}, toText(name));
    }
    for (const scene::Source& source : scene.sources)
        addSource(source);
    auto* offer = new SourcePill{tr("+ source"), true, row_};
    offer->setObjectName(QStringLiteral("add source"));
    row->addWidget(offer);
    connect(offer, &SourcePill::released, this, [this] { offerSource(); });
    row->addStretch(1);
    row_->setMinimumWidth(row->sizeHint().width()); // pills are never squeezed
    refreshLive();
}

/// While recording its first key is pressed with the mouse.
void SourceShelf::letPress(const Entry& entry)
{
    const QString key = entry.keys.empty() ? QString() : toText(entry.keys.front());
    connect(entry.pill, &SourcePill::pressed, this, [this, key] { stage_.key(key, true); });
    connect(entry.pill, &SourcePill::released, this, [this, key] { stage_.key(key, false); });
}

void SourceShelf::addSource(const scene::Source& source)
{
    const auto open = [this, id = source.id](SourcePill* pill) { SourcePanel::open(pill, document_, id); };
    if (const auto* timer = std::get_if<scene::TimerSource>(&source.kind)) {
        Entry& entry = add(tr("%1  every %2").arg(toText(source.id), numberText(timer->every, scene::Unit::seconds)),
                           tr("Timer; click to change it"));
        entry.timer = source.id;
        connect(entry.pill, &SourcePill::clicked, this, [open, pill = entry.pill] { open(pill); });
    } else if (std::holds_alternative<scene::DialSource>(source.kind)) {
        Entry& entry = add(toText(source.id), tr("Dial; while recording, turn the wheel over it; click to change it"));
        entry.dial = source.id;
        connect(entry.pill, &SourcePill::clicked, this, [open, pill = entry.pill] { open(pill); });
        connect(entry.pill, &SourcePill::turned, this, [this, id = source.id](int steps) { turnDial(id, steps); });
    } else if (const auto* call = std::get_if<scene::CallSource>(&source.kind)) {
        Entry& entry = add(tr("call %1").arg(toText(call->name)),
                           tr("A named event from outside; while recording, click to make it"));
        entry.call = call->name;
        connect(entry.pill, &SourcePill::clicked, this, [this, open, made = *call, pill = entry.pill] {
            if (stage_.mode() == Stage::Mode::recording)
                stage_.call(made.name, made.values);
            else
                open(pill);
        });
    } else {
        const auto& keys = std::get<scene::KeySource>(source.kind).keys;
        QStringList labels;
        for (const std::string& key : keys)
            labels << keyLabel(toText(key));
        Entry& entry = add(tr("%1  %2").arg(toText(source.id), labels.join(QStringLiteral(" / "))),
                           tr("A set of keys; while recording, press it here"));
        entry.keys = keys;
        letPress(entry);
        connect(entry.pill, &SourcePill::clicked, this, [this, open, pill = entry.pill] {
            if (stage_.mode() != Stage::Mode::recording)
                open(pill);
        });
    }
    letDrag(entries_.back().pill, toText(source.id), {});
}

void SourceShelf::wheelEvent(QWheelEvent* event)
{
    const int excess = std::max(0, row_->sizeHint().width() + 18 - width());
    const int left = std::clamp(layout()->contentsMargins().left() + event->angleDelta().y() / 2, 10 - excess, 10);
    layout()->setContentsMargins(left, 0, 8, 0);
}

void SourceShelf::refreshLive()
{
    const sim::Record& record = stage_.record();
    const auto now = stage_.cursor();
    const std::vector<std::string> keys = sim::standingAt(record, now).keysDown;
    const std::set<std::string> down{keys.begin(), keys.end()};
    std::set<std::string> elapsed;
    std::set<std::string> called;
    for (auto tick = std::max<std::int64_t>(0, now - record.scene->rate / 3); tick <= now; ++tick)
        for (const rules::Line& line : record.linesOf(tick))
            if (line.kind == rules::LineKind::event && line.event == rules::EventKind::elapsed)
                elapsed.insert(record.journal.textOf(line));
            else if (line.kind == rules::LineKind::event && line.event == rules::EventKind::called)
                called.insert(record.journal.textOf(line));
    for (const Entry& entry : entries_)
        if (!entry.dial.empty())
            entry.pill->setText(tr("%1  %2").arg(toText(entry.dial)).arg(dialNow(entry.dial), 0, 'g', 4));
    for (const Entry& entry : entries_)
        entry.pill->setLive(
            elapsed.contains(entry.timer) || called.contains(entry.call) ||
            std::ranges::any_of(entry.keys, [&](const std::string& key) { return down.contains(key); }));
}

/// What a dial is set to at the cursor.
double SourceShelf::dialNow(const std::string& id) const
{
    const sim::Record& record = stage_.record();
    for (std::size_t i = 0; i < record.scene->sources.size(); ++i)
        if (record.scene->sources[i].id == id)
            if (const auto value = sim::valueAt(record, world::sourceIndex(i), "value", stage_.cursor()))
                return std::get<double>(*value);
    return 0;
}

/// By a twentieth of its range a step.
void SourceShelf::turnDial(const std::string& id, int steps)
{
    const scene::Source* source = scene::findSource(document_.scene(), id);
    const auto* dial = source ? std::get_if<scene::DialSource>(&source->kind) : nullptr;
    if (dial)
        stage_.dial(id, std::clamp(dialNow(id) + steps * (dial->high - dial->low) / 20, std::min(dial->low, dial->high),
                                   std::max(dial->low, dial->high)));
}

void SourceShelf::letDrag(SourcePill* pill, const QString& source, const QString& key)
{
    connect(pill, &SourcePill::dragged, this,
            [this, pill](const QPoint& to) { emit threadDragged(pill->mapToGlobal(pill->rect().center()), to); });
    connect(pill, &SourcePill::dropped, this,
            [this, source, key](const QPoint& at) { emit threadDropped(source, key, at); });
    pill->setToolTip(pill->toolTip() + tr("; drag it to a piece to draw a thread"));
    if (!source.isEmpty())
        pill->setObjectName(QStringLiteral("source ") + source);
}

void SourceShelf::offerSource()
{
    QWidget* anchor = findChild<QWidget*>(QStringLiteral("add source"));
    Question question;
    question.title = tr("A new source");
    question.choices = {
        {QStringLiteral("timer"), tr("timer"), tr("elapses again and again"), tr("clock interval")},
        {QStringLiteral("dial"), tr("dial"), tr("a number set from outside"), tr("sensor value tide loudness")},
        {QStringLiteral("call"), tr("call"), tr("a named event from outside"), tr("hail message item")},
        {QStringLiteral("key"), tr("key set"), tr("several keys that mean the same"), tr("keyboard")}};
    SlotPopup::ask(anchor, question, [this](const QStringList& answer) {
        const std::string word = answer.front().toStdString();
        scene::Source source;
        source.id = scene::freeId(document_.scene(), word == "key" ? "keys" : word);
        if (word == "timer")
            source.kind = scene::TimerSource{5, true, true};
        else if (word == "dial")
            source.kind = scene::DialSource{0, 1, 0};
        else if (word == "call")
            source.kind = scene::CallSource{"hail", {}};
        else
            source.kind = scene::KeySource{{"e", "Return"}};
        document_.edit(tr("Add source %1").arg(toText(source.id)),
                       [&](scene::Scene& scene) { scene.sources.push_back(source); });
        if (auto* pill = findChild<QWidget*>(QStringLiteral("source ") + toText(source.id)))
            SourcePanel::open(pill, document_, source.id);
    });
}

void SourceShelf::openSource(const std::string& source)
{
    if (auto* pill = findChild<QWidget*>(QStringLiteral("source ") + toText(source)))
        SourcePanel::open(pill, document_, source);
}

} // namespace snare::app
