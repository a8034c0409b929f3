// SPDX-License-Identifier: Apache-2.0
#include "app/model/findings_watch.h"

#include <QtConcurrentRun>

namespace snare::app {

namespace {

/// Scenes up to this many snares times pieces are looked at while one waits: that takes a few
/// milliseconds.
constexpr std::size_t atOnce = 20'000;

} // namespace

FindingsWatch::FindingsWatch(Edit edit, QObject* parent)
    : QObject(parent), edit_(std::move(edit)), findings_(std::make_shared<std::vector<check::Finding>>())
{
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        const bool again = std::exchange(stale_, false);
        take(watcher_.result());
        if (again)
            look();
    });
}

FindingsWatch::~FindingsWatch()
{
    watcher_.waitForFinished();
}

void FindingsWatch::follow(std::shared_ptr<const scene::Scene> scene)
{
    if (scene == scene_)
        return;
    scene_ = std::move(scene);
    look();
}

void FindingsWatch::look()
{
    if (watcher_.isRunning()) {
        stale_ = true;
        return;
    }
    const auto find = [scene = scene_] {
        return List{std::make_shared<std::vector<check::Finding>>(check::findingsOf(*scene))};
    };
    if ((scene_->snares.size() + 20) * (scene_->pieces.size() + 20) <= atOnce)
        take(find());
    else
        watcher_.setFuture(QtConcurrent::run(find));
}

void FindingsWatch::take(List list)
{
    const bool same = std::ranges::equal(*list, *findings_, [](const check::Finding& a, const check::Finding& b) {
        return a.id == b.id && a.place == b.place && a.text == b.text && a.accepted == b.accepted;
    });
    findings_ = std::move(list);
    if (!same)
        emit changed();
}

std::vector<check::Finding> FindingsWatch::at(const check::Place& place) const
{
    std::vector<check::Finding> found;
    for (const check::Finding& finding : *findings_)
        if (finding.accepted.empty() && finding.place.of == place.of && finding.place.id == place.id &&
            finding.place.home == place.home && finding.place.assembly == place.assembly)
            found.push_back(finding);
    return found;
}

std::size_t FindingsWatch::open() const
{
    return static_cast<std::size_t>(
        std::ranges::count_if(*findings_, [](const check::Finding& finding) { return finding.accepted.empty(); }));
}

void FindingsWatch::fix(const check::Finding& finding)
{
    if (finding.fix)
        edit_(QString::fromStdString(finding.fix->text), finding.fix->apply);
}

void FindingsWatch::accept(const check::Finding& finding, const QString& reason)
{
    edit_(tr("Accept a finding"), [&](scene::Scene& scene) {
        std::erase_if(scene.accepted, [&](const scene::Accepted& one) { return check::isAccepted(one, finding); });
        scene.accepted.push_back(check::acceptance(finding, reason.toStdString()));
    });
}

void FindingsWatch::unaccept(const check::Finding& finding)
{
    edit_(tr("Accept a finding no longer"), [&](scene::Scene& scene) {
        std::erase_if(scene.accepted, [&](const scene::Accepted& one) { return check::isAccepted(one, finding); });
    });
}

QString saidInPlace(const check::Finding& finding)
{
    const std::string name = check::textOf(finding.place) + " ";
    return QString::fromStdString(finding.text.starts_with(name) ? finding.text.substr(name.size()) : finding.text);
}

} // namespace snare::app
