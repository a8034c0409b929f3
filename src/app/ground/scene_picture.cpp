// SPDX-License-Identifier: Apache-2.0
#include "app/ground/scene_picture.h"

#include "app/ground/ground_painter.h"
#include "sim/recorder.h"

#include <algorithm>

namespace snare::app {

QImage pictureOfScene(const std::shared_ptr<const scene::Scene>& scene, const QSize& size, io::Pictures* pictures,
                      bool bare)
{
    constexpr int finer = 2; // drawn larger than it is shown: what is small keeps its form
    const QSize drawn = size * finer;
    QImage image{drawn, QImage::Format_ARGB32_Premultiplied};
    image.fill(theme().ground);
    const sim::Recorder recorder{scene};
    const sim::Record& record = recorder.record();
    geometry::Bounds around = boundsOf(*scene);
    if (scene->bounds)
        around = {{(*scene->bounds)[0], (*scene->bounds)[1]}, {(*scene->bounds)[2], (*scene->bounds)[3]}};
    const Vec extent = around.high - around.low;
    const double margin = bare ? 1.25 : 1.04;
    GroundTransform transform;
    transform.size = drawn;
    transform.centre = (around.low + around.high) * 0.5;
    transform.scale =
        std::min(drawn.width() / std::max(1.0, extent.x * margin), drawn.height() / std::max(1.0, extent.y * margin));
    QPainter painter{&image};
    painter.setRenderHint(QPainter::Antialiasing);
    const Selection nobody;
    GroundOptions options;
    options.bare = bare;
    GroundPainter{painter, transform, *scene, record, 0, nobody, options, pictures}.paint(
        shownPieces(*scene, record, 0), {});
    painter.end();
    return image.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

} // namespace snare::app
