// SPDX-License-Identifier: Apache-2.0
#include "app/model/rescue.h"

#include "app/ui/settings.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QStandardPaths>
#include <QUuid>

namespace snare::app {

namespace {

QByteArray textOf(const DocumentState& state, const std::vector<scene::LoadedKit>& edited, const QString& path)
{
    QJsonArray kits;
    for (const scene::LoadedKit& kit : edited)
        kits.append(QJsonObject{{QStringLiteral("file"), QString::fromStdString(kit.file)},
                                {QStringLiteral("kit"), QString::fromStdString(io::kitText(kit.kit))}});
    QJsonArray takes;
    for (const NamedTake& one : state.takes)
        takes.append(QJsonObject{{QStringLiteral("name"), QString::fromStdString(one.name)},
                                 {QStringLiteral("take"), QString::fromStdString(io::takeText(*one.take))}});
    return QJsonDocument{QJsonObject{{QStringLiteral("format"), QStringLiteral("fresh-snare-rescue")},
                                     {QStringLiteral("version"), 1},
                                     {QStringLiteral("path"), path},
                                     {QStringLiteral("scene"), QString::fromStdString(io::sceneText(*state.scene))},
                                     {QStringLiteral("kits"), kits},
                                     {QStringLiteral("takes"), takes}}}
        .toJson(QJsonDocument::Compact);
}

QJsonObject read(const QString& file)
{
    QFile in{file};
    return in.open(QIODevice::ReadOnly) ? QJsonDocument::fromJson(in.readAll()).object() : QJsonObject();
}

} // namespace

Rescue::Rescue(Document& document, QObject* parent) : QObject(parent), document_(document)
{
    QDir().mkpath(folder());
    const QString name = folder() + QLatin1Char('/') + QUuid::createUuid().toString(QUuid::WithoutBraces);
    file_ = name + QStringLiteral(".rescue");
    lock_ = std::make_unique<QLockFile>(name + QStringLiteral(".lock"));
    lock_->setStaleLockTime(0);
    lock_->tryLock(0);
    pool_.setMaxThreadCount(1); // the newest is written last
    timer_.setSingleShot(true);
    const auto follow = [this] { timer_.setInterval(Settings::instance().keepAside() * 1000); };
    follow();
    connect(&Settings::instance(), &Settings::changed, this, follow);
    connect(&timer_, &QTimer::timeout, this, &Rescue::writeNow);
    connect(&document_, &Document::changed, this, [this] {
        if (document_.isDirty() && !timer_.isActive())
            timer_.start();
    });
    connect(&document_, &Document::dirtyChanged, this, [this] {
        if (!document_.isDirty())
            clear();
        else if (!timer_.isActive())
            timer_.start();
    });
}

Rescue::~Rescue()
{
    pool_.waitForDone();
}

QString Rescue::folder()
{
    return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + QStringLiteral("/rescue");
}

void Rescue::writeNow()
{
    timer_.stop();
    if (!document_.isDirty())
        return;
    pool_.start([state = document_.state(), kits = document_.editedKits(), path = document_.filePath(), file = file_] {
        io::saveText(file.toStdString(), textOf(state, kits, path).toStdString());
    });
}

void Rescue::clear()
{
    timer_.stop();
    pool_.waitForDone();
    QFile::remove(file_);
}

std::vector<Rescue::Found> Rescue::found() const
{
    std::vector<Found> result;
    for (const QFileInfo& info : QDir{folder()}.entryInfoList({QStringLiteral("*.rescue")}, QDir::Files, QDir::Time)) {
        if (info.absoluteFilePath() == QFileInfo{file_}.absoluteFilePath())
            continue;
        QLockFile owner{info.absolutePath() + QLatin1Char('/') + info.completeBaseName() + QStringLiteral(".lock")};
        owner.setStaleLockTime(0);
        if (!owner.tryLock(0)) // somebody is working on it
            continue;
        const QJsonObject text = read(info.absoluteFilePath());
        result.push_back({info.absoluteFilePath(), text[QStringLiteral("path")].toString(),
                          info.lastModified().toString(QStringLiteral("yyyy-MM-dd hh:mm"))});
    }
    return result;
}

bool Rescue::bringBack(const Found& found)
{
    const QJsonObject text = read(found.file);
    // Kits that were not changed stand beside the file that the work belongs to.
    const QString folder = found.path.isEmpty() ? QDir::currentPath() : QFileInfo(found.path).absolutePath();
    const auto kits = [&](const std::string& name) {
        for (const QJsonValue one : text[QStringLiteral("kits")].toArray())
            if (one[QStringLiteral("file")].toString().toStdString() == name)
                if (auto kit = io::readKit(one[QStringLiteral("kit")].toString().toStdString(), name))
                    return scene::LoadedKit{name, {}, std::move(*kit), 0};
        return io::kitsIn(folder.toStdString())(name);
    };
    auto scene = io::readScene(text[QStringLiteral("scene")].toString().toStdString(), found.file.toStdString(), kits);
    if (!scene)
        return false;
    DocumentState state;
    state.scene = std::make_shared<const scene::Scene>(std::move(*scene));
    for (const QJsonValue one : text[QStringLiteral("takes")].toArray())
        if (auto take = io::readTake(one[QStringLiteral("take")].toString().toStdString(), found.file.toStdString()))
            state.takes.push_back({one[QStringLiteral("name")].toString().toStdString(),
                                   std::make_shared<const scene::Take>(std::move(*take))});
    if (state.takes.empty())
        state.takes.push_back({{}, std::make_shared<scene::Take>()});
    document_.bringBack(found.path, std::move(state));
    writeNow(); // it is this program's now
    discard(found);
    return true;
}

void Rescue::discard(const Found& found)
{
    QFile::remove(found.file);
}

} // namespace snare::app
