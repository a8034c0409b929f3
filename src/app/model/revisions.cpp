// SPDX-License-Identifier: Apache-2.0
#include "app/model/revisions.h"

#include "app/ui/text.h"
#include "io/document.h"
#include "io/pictures.h"

#include <QFileInfo>
#include <QObject>
#include <QProcess>

namespace snare::app {

namespace {

/// What git says in the folder of a file; nothing if it fails.
std::optional<QByteArray> git(const QString& file, const QStringList& words)
{
    constexpr int longestMs = 10'000;
    QProcess process;
    process.setWorkingDirectory(QFileInfo{file}.absolutePath());
    process.start(QStringLiteral("git"), words);
    if (!process.waitForStarted() || !process.waitForFinished(longestMs) || process.exitCode() != 0)
        return std::nullopt;
    return process.readAllStandardOutput();
}

} // namespace

std::vector<Revision> revisionsOf(const QString& file)
{
    std::vector<Revision> revisions;
    const auto said =
        git(file, {QStringLiteral("log"), QStringLiteral("-n"), QStringLiteral("200"),
                   QStringLiteral("--format=%h%x09%cs%x09%s"), QStringLiteral("--"), QFileInfo{file}.fileName()});
    for (const QString& line :
         QString::fromUtf8(said.value_or(QByteArray{})).split(QLatin1Char('\n'), Qt::SkipEmptyParts))
        revisions.push_back({line.section(QLatin1Char('\t'), 0, 0), line.section(QLatin1Char('\t'), 1, 1),
                             line.section(QLatin1Char('\t'), 2)});
    return revisions;
}

std::shared_ptr<const scene::Scene> sceneIn(const QString& file, const QString& revision, QString* problem)
{
    const auto failed = [&](const QString& why) {
        if (problem)
            *problem = why;
        return nullptr;
    };
    const std::filesystem::path path = file.toStdString();
    if (revision.isEmpty()) {
        auto scene = io::loadScene(path);
        return scene ? std::make_shared<const scene::Scene>(std::move(*scene))
                     : failed(toText(scene.error().front().message()));
    }
    const auto text =
        git(file, {QStringLiteral("show"), QStringLiteral("%1:./%2").arg(revision, QFileInfo{file}.fileName())});
    if (!text)
        return failed(QObject::tr("git cannot show %1 of %2").arg(revision, QFileInfo{file}.fileName()));
    auto scene = io::readScene(text->toStdString(), file.toStdString(), io::kitsIn(path.parent_path()));
    if (!scene)
        return failed(toText(scene.error().front().message()));
    io::Pictures pictures{path.parent_path()};
    pictures.trace(*scene);
    return std::make_shared<const scene::Scene>(std::move(*scene));
}

} // namespace snare::app
