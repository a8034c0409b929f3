// SPDX-License-Identifier: Apache-2.0
#include "app/ui/settings.h"

#include <QAction>
#include <QSettings>

#include <algorithm>

namespace snare::app {

namespace {

constexpr const char* newSceneWords[] = {"ask", "above", "side"};

QString keySetting(const QString& command)
{
    return QStringLiteral("keys/") + command;
}

} // namespace

Settings& Settings::instance()
{
    static Settings settings;
    return settings;
}

Settings::Settings()
{
    const QSettings kept;
    // Whatever stands in the file: only what can be chosen counts.
    const auto among = [&](const char* key, const auto& known, auto usual) {
        const auto value = kept.value(QLatin1String(key), usual).template value<decltype(usual)>();
        return std::ranges::find(known, value) == known.end() ? usual : value;
    };
    gridStep_ = among("gridStep", gridSteps, gridStep_);
    keepAside_ = among("keepAside", keepAsides, keepAside_);
    size_ = among("size", sizes, size_);
    sounds_ = kept.value(QStringLiteral("sounds"), true).toBool();
    showsAll_ = kept.value(QStringLiteral("cards/showsAll"), false).toBool();
    const QString wish = kept.value(QStringLiteral("newScene")).toString();
    newScene_ = wish == QLatin1String("above")  ? NewSceneWish::fromAbove
                : wish == QLatin1String("side") ? NewSceneWish::fromTheSide
                                                : NewSceneWish::ask;
}

void Settings::setGridStep(double step)
{
    gridStep_ = step;
    QSettings().setValue(QStringLiteral("gridStep"), step);
    emit changed();
}

void Settings::setKeepAside(int seconds)
{
    keepAside_ = seconds;
    QSettings().setValue(QStringLiteral("keepAside"), seconds);
    emit changed();
}

void Settings::setNewScene(NewSceneWish wish)
{
    newScene_ = wish;
    QSettings().setValue(QStringLiteral("newScene"), QLatin1String(newSceneWords[static_cast<int>(wish)]));
    emit changed();
}

void Settings::setSounds(bool on)
{
    sounds_ = on;
    QSettings().setValue(QStringLiteral("sounds"), on);
    emit changed();
}

void Settings::setShowsAll(bool on)
{
    showsAll_ = on;
    QSettings().setValue(QStringLiteral("cards/showsAll"), on);
    emit changed();
}

void Settings::setSize(int percent)
{
    size_ = percent;
    QSettings().setValue(QStringLiteral("size"), percent);
    emit changed();
}

void Settings::applySize()
{
    if (qEnvironmentVariableIsSet("QT_SCALE_FACTOR"))
        return;
    if (const int percent = instance().size(); percent != 100)
        qputenv("QT_SCALE_FACTOR", QByteArray::number(percent / 100.0));
}

QString Settings::keyOf(const QString& command, const QString& usual)
{
    return QSettings().value(keySetting(command), usual).toString();
}

void Settings::setKey(const QString& command, const QString& key)
{
    QSettings().setValue(keySetting(command), key);
}

void Settings::forgetKey(const QString& command)
{
    QSettings().remove(keySetting(command));
}

QString commandName(const QAction& command)
{
    return command.text()
        .section(QLatin1Char('\t'), 0, 0)
        .remove(QLatin1Char('&'))
        .remove(QLatin1Char('/'))
        .remove(QChar{0x2026});
}

} // namespace snare::app
