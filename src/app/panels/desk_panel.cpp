// SPDX-License-Identifier: Apache-2.0
#include "app/panels/desk_panel.h"

#include "app/ui/accessible.h"
#include "app/model/take_edit.h"
#include "app/ui/flow_layout.h"
#include "app/ui/slot_button.h"
#include "app/ui/slot_popup.h"
#include "app/ui/theme.h"
#include "app/ui/words.h"

#include <QLabel>
#include <QSettings>
#include <QVBoxLayout>

#include <cmath>

namespace snare::app {

namespace {

constexpr double stepOfLaying = 0.1; ///< s between the values that a curve lays over a take
constexpr quint16 portIn = 9137;
constexpr quint16 portOut = 9138;

QString settingOf(const QString& key)
{
    return QStringLiteral("desk/") + key;
}

double rounded(double value)
{
    return std::round(value * 1e4) / 1e4;
}

} // namespace

DeskPanel::DeskPanel(Document& document, Stage& stage, QWidget* parent)
    : QScrollArea(parent), document_(document), stage_(stage), osc_(document, stage)
{
    setObjectName(QStringLiteral("desk"));
    giveRole(this, QAccessible::Pane, tr("Desk"));
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    page_ = new QWidget;
    column_ = new QVBoxLayout{page_};
    column_->setContentsMargins(12, 10, 12, 12);
    column_->setSpacing(10);
    setWidget(page_);
    auto* about =
        new QLabel{tr("Stand-ins for what the scene may be connected to. While recording, what they do becomes "
                      "part of the take.")};
    about->setWordWrap(true);
    colourText(about, &Theme::inkSoft);
    column_->addWidget(about);
    buildLoudness();
    buildTide();
    buildGestures();
    buildSticks();
    buildCalls();
    buildOsc();
    column_->addStretch(1);
    connect(&document_, &Document::changed, this, [this] {
        if (isVisible())
            refresh();
    });
    connect(&stage_, &Stage::cursorChanged, this, &DeskPanel::onTick);
    connect(&stage_, &Stage::modeChanged, this, [this] {
        for (Feeder& feeder : feeders_)
            feeder.last.reset();
    });
    connect(&osc_, &OscPort::changed, this, &DeskPanel::refreshOsc);
    refresh();
}

QVBoxLayout* DeskPanel::card(const QString& title, const QString& about)
{
    auto* frame = new QFrame;
    frame->setObjectName(QStringLiteral("deskCard"));
    dress(frame, [] {
        return QStringLiteral("#deskCard { background: %1; border: 1px solid %2; border-radius: 8px; }")
            .arg(theme().panel.name(), theme().hairline.name());
    });
    auto* column = new QVBoxLayout{frame};
    column->setContentsMargins(10, 8, 10, 10);
    column->setSpacing(6);
    auto* head = new QLabel{title};
    head->setFont(textFont(0.5, true));
    column->addWidget(head);
    if (!about.isEmpty()) {
        auto* text = new QLabel{about};
        text->setWordWrap(true);
        colourText(text, &Theme::inkSoft);
        column->addWidget(text);
    }
    column_->addWidget(frame);
    return column;
}

SlotButton* DeskPanel::slot(FlowLayout* line, const QString& name, const QString& text, bool filled)
{
    auto* button = new SlotButton{text, filled ? SlotButton::Kind::filled : SlotButton::Kind::offer, page_};
    button->setObjectName(name);
    line->addWidget(button);
    return button;
}

const scene::DialSource* DeskPanel::findDial(const QString& id) const
{
    const scene::Source* source = scene::findSource(document_.scene(), id.toStdString());
    return source ? std::get_if<scene::DialSource>(&source->kind) : nullptr;
}

/// The dial that was chosen for a device if the scene has it, else one of a fitting name.
QString DeskPanel::dialOf(const QString& key, const QString& like) const
{
    QString chosen = QSettings{}.value(settingOf(key)).toString();
    if (findDial(chosen))
        return chosen;
    for (const scene::Source& source : document_.scene().sources)
        if (std::holds_alternative<scene::DialSource>(source.kind) && !like.isEmpty())
            for (const QString& word : like.split(QLatin1Char(' ')))
                if (toText(source.id).contains(word, Qt::CaseInsensitive))
                    return toText(source.id);
    return {};
}

void DeskPanel::askForDial(SlotButton* button, const QString& key)
{
    Question question;
    question.title = tr("Which dial it sets");
    for (const scene::Source& source : document_.scene().sources)
        if (const auto* dial = std::get_if<scene::DialSource>(&source.kind))
            question.choices.push_back({toText(source.id), {}, tr("%1 to %2").arg(dial->low).arg(dial->high), {}});
    question.choices.push_back({QStringLiteral("*"), tr("none"), {}, {}});
    SlotPopup::ask(button, question, [this, key](const QStringList& answer) {
        QSettings{}.setValue(settingOf(key), answer.front());
        refresh();
    });
}

void DeskPanel::buildFeeder(QVBoxLayout* column, FlowLayout* line, Feeder feeder)
{
    const std::size_t index = feeders_.size();
    feeder.meter = new Meter{feeder.key};
    column->addWidget(feeder.meter);
    feeder.dial = slot(line, feeder.key + QStringLiteral(" dial"), {}, true);
    connect(feeder.dial, &SlotButton::clicked, this,
            [this, index] { askForDial(feeders_[index].dial, feeders_[index].key); });
    feeder.feeds = slot(line, feeder.key + QStringLiteral(" feeds"), tr("feed it"), false);
    feeder.feeds->setToolTip(tr("While recording, the device sets the dial"));
    connect(feeder.feeds, &SlotButton::clicked, this, [this, index] {
        feeders_[index].on = !feeders_[index].on;
        feeders_[index].last.reset();
        refresh();
    });
    SlotButton* lay = slot(line, feeder.key + QStringLiteral(" lay"), tr("lay over the take"), false);
    lay->setToolTip(tr("Sets the dial all along the take as the device would"));
    connect(lay, &SlotButton::clicked, this, [this, index] { layOver(index); });
    feeders_.push_back(std::move(feeder));
}

void DeskPanel::buildLoudness()
{
    QVBoxLayout* column = card(tr("Loudness meter"), {});
    auto* line = new FlowLayout{nullptr, 6};
    SlotButton* voice = slot(line, QStringLiteral("voice"), toText(desk::voices[1].word), true);
    connect(voice, &SlotButton::clicked, this, [this, voice] {
        Question question;
        question.title = tr("How someone speaks into it");
        for (const desk::VoiceWord& word : desk::voices)
            question.choices.push_back({toText(word.word), {}, toText(word.about), {}});
        SlotPopup::ask(voice, question, [this, voice](const QStringList& answer) {
            for (const desk::VoiceWord& word : desk::voices)
                if (toText(word.word) == answer.front())
                    voice_ = word.value;
            voice->setText(answer.front());
            voice->updateGeometry();
            refresh();
        });
    });
    buildFeeder(column, line,
                {QStringLiteral("loudness"),
                 [this](const scene::DialSource& dial, double seconds) {
                     return dial.low + (dial.high - dial.low) * desk::voiceLevel(voice_, seconds);
                 },
                 QStringLiteral("loud voice noise sound")});
    column->addLayout(line);
}

void DeskPanel::buildTide()
{
    QVBoxLayout* column = card(tr("Tide gauge"), {});
    auto* line = new FlowLayout{nullptr, 6};
    SlotButton* period = slot(line, QStringLiteral("tide period"), tr("%1 s a tide").arg(tidePeriod_), true);
    connect(period, &SlotButton::clicked, this, [this, period] {
        Question question;
        question.title = tr("From high water to high water, s");
        question.freeText = true;
        question.typed = QString::number(tidePeriod_);
        question.check = [](const QStringList& answer) {
            const auto numbers = numbersIn(answer.front(), 1);
            return numbers && numbers->front() > 0.5 ? QString() : tr("A number above 0.5");
        };
        SlotPopup::ask(period, question, [this, period](const QStringList& answer) {
            tidePeriod_ = numbersIn(answer.front(), 1)->front();
            period->setText(tr("%1 s a tide").arg(tidePeriod_));
            period->updateGeometry();
            refresh();
        });
    });
    SlotButton* way = slot(line, QStringLiteral("tide way"), tr("from high water"), true);
    connect(way, &SlotButton::clicked, this, [this, way] {
        tideFalls_ = !tideFalls_;
        way->setText(tideFalls_ ? tr("from high water") : tr("from low water"));
        way->updateGeometry();
        refresh();
    });
    buildFeeder(column, line,
                {QStringLiteral("tide"),
                 [this](const scene::DialSource& dial, double seconds) {
                     return desk::tideHeight({dial.low, dial.high, tidePeriod_, tideFalls_ ? 1.0 : 0.0}, seconds);
                 },
                 QStringLiteral("tide water height")});
    column->addLayout(line);
}

void DeskPanel::buildGestures()
{
    QVBoxLayout* column = card(tr("Gesture pad"), {});
    auto* row = new QHBoxLayout;
    pad_ = new GesturePad;
    nearness_ = new NearnessList;
    row->addWidget(pad_);
    row->addWidget(nearness_, 1);
    column->addLayout(row);
    verdict_ = new QLabel{tr("A stroke that counts makes the call of its name.")};
    verdict_->setObjectName(QStringLiteral("verdict"));
    verdict_->setWordWrap(true);
    column->addWidget(verdict_);
    connect(pad_, &GesturePad::judged, this, &DeskPanel::strokeJudged);
}

void DeskPanel::strokeJudged()
{
    const desk::Judgement& judgement = pad_->judgement();
    nearness_->show(judgement);
    if (!judgement.stroke) {
        verdict_->setText(tr("No stroke: %1.").arg(toText(judgement.why)));
        return;
    }
    const double near = std::round(judgement.nearness.front().near * 100) / 100;
    const std::string name{*judgement.stroke};
    const bool live = stage_.mode() == Stage::Mode::recording;
    if (live) {
        scene::Named<scene::Scalar> with;
        with.set("near", near);
        stage_.call(name, with);
    }
    verdict_->setText(live ? tr("%1, with %2: the call %1 is made.").arg(toText(name)).arg(near)
                           : tr("%1, with %2. While recording, this makes the call %1.").arg(toText(name)).arg(near));
}

void DeskPanel::buildSticks()
{
    QVBoxLayout* column = card(tr("Two-stick pad"), {});
    auto* row = new QHBoxLayout;
    row->addStretch(1);
    for (const char* side : {"left", "right"}) {
        const QString key = QStringLiteral("stick ") + QLatin1String(side);
        auto* half = new QVBoxLayout;
        auto* stick = new Stick{key};
        half->addWidget(stick, 0, Qt::AlignHCenter);
        for (const char* axis : {"x", "y"}) {
            const QString dialKey = key + QLatin1Char(' ') + QLatin1String(axis);
            auto* button = new SlotButton{{}, SlotButton::Kind::offer, page_};
            button->setObjectName(dialKey);
            connect(button, &SlotButton::clicked, this, [this, button, dialKey] { askForDial(button, dialKey); });
            half->addWidget(button, 0, Qt::AlignHCenter);
            stickDials_.emplace_back(dialKey, button);
        }
        connect(stick, &Stick::moved, this, [this, stick, key] { stickMoved(*stick, key); });
        row->addLayout(half);
        row->addStretch(1);
    }
    column->addLayout(row);
}

/// From the middle of the dial's range to its ends.
void DeskPanel::stickMoved(const Stick& stick, const QString& key)
{
    const auto send = [&](const QString& axis, double part) {
        const QString id = QSettings{}.value(settingOf(key + axis)).toString();
        if (const scene::DialSource* dial = findDial(id))
            stage_.dial(id.toStdString(), rounded((dial->low + dial->high) / 2 + part * (dial->high - dial->low) / 2));
    };
    send(QStringLiteral(" x"), stick.value().x);
    send(QStringLiteral(" y"), stick.value().y);
}

void DeskPanel::buildCalls()
{
    calls_ = card(tr("Calls"), tr("Every name that is caught, or made by something here. Click one to make it while "
                                  "recording."));
}

void DeskPanel::refreshCalls()
{
    const scene::Scene& scene = document_.scene();
    struct Known {
        QStringList heard;
        QStringList made;
        scene::Named<scene::Scalar> values;
    };
    std::map<std::string, Known> calls;
    for (const scene::Snare& snare : scene.snares)
        if (!snare.catches.name.empty())
            calls[snare.catches.name].heard << toText(snare.id);
    for (const scene::Source& source : scene.sources)
        if (const auto* call = std::get_if<scene::CallSource>(&source.kind)) {
            calls[call->name].made << tr("the shelf");
            calls[call->name].values = call->values;
        }
    std::map<std::string, int> inTake;
    for (const scene::Input& input : document_.take().inputs)
        if (const auto* call = input.as<scene::CallInput>())
            ++inTake[call->call];
    for (const auto& [name, times] : inTake)
        calls[name].made << tr("the take, %1 times").arg(times);
    for (const desk::Stroke& stroke : desk::knownStrokes())
        if (const auto found = calls.find(std::string(stroke.name)); found != calls.end())
            found->second.made << tr("the gesture pad");
    std::vector<std::string> shown;
    shown.reserve(calls.size());
    for (const auto& [name, known] : calls)
        shown.push_back(name + known.heard.join(QLatin1Char(',')).toStdString() + ";" +
                        known.made.join(QLatin1Char(',')).toStdString());
    if (callList_ && shown == shownCalls_)
        return;
    shownCalls_ = std::move(shown);
    if (callList_)
        callList_->deleteLater();
    callList_ = new QWidget;
    auto* list = new QVBoxLayout{callList_};
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(4);
    for (const auto& [name, known] : calls) {
        auto* line = new FlowLayout{nullptr, 6};
        SlotButton* make = slot(line, QStringLiteral("call ") + toText(name), toText(name), true);
        make->setFocusPolicy(Qt::TabFocus);
        connect(make, &SlotButton::clicked, this,
                [this, name = name, values = known.values] { stage_.call(name, values); });
        auto* about = new QLabel{tr("heard by %1 · made by %2")
                                     .arg(known.heard.isEmpty() ? tr("nobody") : known.heard.join(QStringLiteral(", ")),
                                          known.made.isEmpty() ? tr("nothing here; perhaps from outside")
                                                               : known.made.join(QStringLiteral(", ")))};
        about->setWordWrap(true);
        colourText(about, &Theme::inkSoft);
        list->addLayout(line);
        list->addWidget(about);
    }
    if (calls.empty()) {
        auto* none = new QLabel{tr("No snare catches a call yet.")};
        colourText(none, &Theme::inkSoft);
        list->addWidget(none);
    }
    calls_->addWidget(callList_);
}

void DeskPanel::buildOsc()
{
    QVBoxLayout* column =
        card(tr("Programs outside"),
             tr("OSC 1.0 over UDP, on this machine only. An address is a call, /dial/NAME sets a dial; "
                "signals that the scene marks for outside are sent."));
    auto* line = new FlowLayout{nullptr, 6};
    oscSwitch_ = slot(line, QStringLiteral("osc"), {}, true);
    connect(oscSwitch_, &SlotButton::clicked, this, [this] {
        if (osc_.isOpen())
            return osc_.close();
        const QSettings settings;
        const auto port = [&](const char* name, quint16 usual) {
            return static_cast<quint16>(settings.value(settingOf(QLatin1String(name)), usual).toUInt());
        };
        if (const QString wrong = osc_.open(port("in", portIn), port("out", portOut)); !wrong.isEmpty())
            oscState_->setText(tr("It cannot be opened: %1").arg(wrong));
    });
    SlotButton* ports = slot(line, QStringLiteral("osc ports"), tr("ports…"), false);
    connect(ports, &SlotButton::clicked, this, [this, ports] {
        const QSettings settings;
        Question question;
        question.title = tr("Ports: listening, sending to");
        question.freeText = true;
        question.typed = QStringLiteral("%1, %2")
                             .arg(settings.value(settingOf(QStringLiteral("in")), portIn).toUInt())
                             .arg(settings.value(settingOf(QStringLiteral("out")), portOut).toUInt());
        question.check = [](const QStringList& answer) {
            const auto numbers = numbersIn(answer.front(), 2);
            const auto fine = [](double port) { return port >= 1024 && port <= 65535 && port == std::floor(port); };
            return numbers && fine((*numbers)[0]) && fine((*numbers)[1]) ? QString()
                                                                         : tr("Two numbers from 1024 to 65535");
        };
        SlotPopup::ask(ports, question, [this](const QStringList& answer) {
            const auto numbers = *numbersIn(answer.front(), 2);
            QSettings kept;
            kept.setValue(settingOf(QStringLiteral("in")), static_cast<uint>(numbers[0]));
            kept.setValue(settingOf(QStringLiteral("out")), static_cast<uint>(numbers[1]));
            osc_.close();
            refreshOsc();
        });
    });
    column->addLayout(line);
    oscState_ = new QLabel;
    oscState_->setObjectName(QStringLiteral("oscState"));
    oscState_->setWordWrap(true);
    column->addWidget(oscState_);
    refreshOsc();
}

void DeskPanel::refreshOsc()
{
    const bool open = osc_.isOpen();
    oscSwitch_->setText(open ? tr("open on port %1; close").arg(osc_.portIn()) : tr("closed; open"));
    oscSwitch_->updateGeometry();
    oscState_->setText(!open ? tr("Nothing comes in or goes out.")
                             : tr("%1 in, %2 dropped, %3 out%4")
                                   .arg(osc_.received())
                                   .arg(osc_.dropped())
                                   .arg(osc_.sent())
                                   .arg(osc_.last().isEmpty() ? QString() : QStringLiteral("  ·  ") + osc_.last()));
}

void DeskPanel::refresh()
{
    for (Feeder& feeder : feeders_) {
        const QString id = dialOf(feeder.key, feeder.like);
        feeder.dial->setText(id.isEmpty() ? tr("choose a dial…") : tr("sets %1").arg(id));
        feeder.feeds->setText(feeder.on ? tr("feeding it; stop") : tr("feed it"));
        for (QWidget* changed : {static_cast<QWidget*>(feeder.dial), static_cast<QWidget*>(feeder.feeds)})
            changed->updateGeometry();
        // What it would do: some seconds of a voice, a tide.
        const scene::DialSource* dial = findDial(id);
        const scene::DialSource any;
        feeder.meter->setRange(dial ? dial->low : any.low, dial ? dial->high : any.high);
        if (stage_.mode() == Stage::Mode::recording)
            continue;
        std::vector<double> curve;
        const double seconds = feeder.key == QLatin1String("tide") ? tidePeriod_ : 9;
        for (std::size_t i = 0; i < Meter::length; ++i)
            curve.push_back(feeder.measure(dial ? *dial : any, seconds * static_cast<double>(i) / Meter::length));
        feeder.meter->preview(std::move(curve));
    }
    for (const auto& [key, button] : stickDials_) {
        const QString id = dialOf(key, {});
        const QString axis = key.endsWith(QLatin1Char('x')) ? tr("across") : tr("up");
        button->setText(id.isEmpty() ? tr("%1: no dial").arg(axis) : tr("%1: %2").arg(axis, id));
        button->updateGeometry();
    }
    refreshCalls();
    refreshOsc();
}

void DeskPanel::onTick()
{
    const bool live = stage_.mode() == Stage::Mode::recording;
    if (!live && !isVisible())
        return;
    const double seconds = stage_.cursorSeconds();
    for (Feeder& feeder : feeders_) {
        const QString id = dialOf(feeder.key, feeder.like);
        const scene::DialSource* dial = findDial(id);
        if (!feeder.on || !dial)
            continue;
        const double value = rounded(feeder.measure(*dial, seconds));
        feeder.meter->add(value);
        const double step = std::abs(dial->high - dial->low) / 500;
        if (live && (!feeder.last || std::abs(value - *feeder.last) >= step)) {
            feeder.last = value;
            stage_.dial(id.toStdString(), value);
        }
    }
}

/// The take with the dial set all along it as the device would.
void DeskPanel::layOver(std::size_t index)
{
    const Feeder& feeder = feeders_[index];
    const QString id = dialOf(feeder.key, feeder.like);
    const scene::DialSource* dial = findDial(id);
    if (!dial || stage_.mode() == Stage::Mode::recording)
        return;
    scene::Take take = document_.take();
    const std::string dialName = id.toStdString();
    std::erase_if(take.inputs,
                  [&](const scene::Input& input) { return scene::nameOf<scene::DialInput>(input) == dialName; });
    const double length = scene::lengthOf(take);
    std::optional<double> last;
    for (double t = stepOfLaying; t <= length; t += stepOfLaying) {
        const double value = rounded(feeder.measure(*dial, t));
        if (last == value)
            continue;
        last = value;
        take.inputs.push_back({rounded(t), scene::DialInput{dialName, value}});
    }
    std::ranges::stable_sort(take.inputs, {}, &scene::Input::t);
    document_.setTake(tr("Lay %1 over the take").arg(id), std::move(take));
}

} // namespace snare::app
