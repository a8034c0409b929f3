// SPDX-License-Identifier: Apache-2.0
#include "app/model/key_presses.h"

#include "app/ui/key_names.h"

#include <QKeyEvent>

#include <algorithm>

namespace snare::app {

namespace {

/// How long a release waits for the press that would make it a repeat, ms. Less than two ticks of
/// 60 a second.
constexpr int pairMs = 30;

/// How far apart the server's time stamps of such a pair may be, ms: it asks its clock twice. No
/// hand is that quick.
constexpr quint64 stampMs = 2;

/// The key on the keyboard; events that do not come from one are told apart by their key.
quint32 codeOf(const QKeyEvent& event)
{
    return event.nativeScanCode() != 0 ? event.nativeScanCode() : static_cast<quint32>(event.key());
}

} // namespace

KeyPresses::KeyPresses(std::function<void(const QString&, bool)> tell, QObject* parent)
    : QObject(parent), tell_(std::move(tell))
{
    wait_.setSingleShot(true);
    wait_.setInterval(pairMs);
    // The press may have come while the interface was busy: what is there already is looked at
    // first.
    connect(&wait_, &QTimer::timeout, this, [this] {
        QTimer::singleShot(0, this, [this] {
            if (!wait_.isActive()) // else another release waits for its press
                tellReleases();
        });
    });
}

void KeyPresses::press(const QKeyEvent& event)
{
    if (event.isAutoRepeat())
        return;
    const auto held = std::ranges::find(held_, codeOf(event), &Held::code);
    if (held != held_.end() && held->isLetGo && event.timestamp() - held->letGoAt <= stampMs) {
        held->isLetGo = false;
        return;
    }
    tellReleases();
    const QString name = keyName(event);
    if (name.isEmpty() || std::ranges::find(held_, codeOf(event), &Held::code) != held_.end())
        return;
    held_.push_back({codeOf(event), name});
    tell_(name, true);
}

void KeyPresses::release(const QKeyEvent& event)
{
    if (event.isAutoRepeat())
        return;
    const auto held = std::ranges::find(held_, codeOf(event), &Held::code);
    if (held == held_.end())
        return;
    held->isLetGo = true;
    held->letGoAt = event.timestamp();
    if (event.timestamp() == 0) // not from a server
        tellReleases();
    else
        wait_.start();
}

void KeyPresses::letGo()
{
    for (Held& held : held_)
        held.isLetGo = true;
    tellReleases();
}

void KeyPresses::tellReleases()
{
    wait_.stop();
    std::vector<QString> names;
    std::erase_if(held_, [&](const Held& held) {
        if (held.isLetGo)
            names.push_back(held.name);
        return held.isLetGo;
    });
    for (const QString& name : names)
        tell_(name, false);
}

} // namespace snare::app
