// SPDX-License-Identifier: Apache-2.0
#include "app/window/bring_in.h"

#include "app/ground/figures.h"
#include "app/ui/form_rows.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "io/document.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace snare::app {

namespace {

constexpr QSize pictureSize{560, 300};

/// Nothing if it is no length.
std::optional<double> lengthIn(const QLineEdit& field)
{
    const auto numbers = numbersIn(field.text(), 1);
    return numbers && numbers->front() > 0 ? std::optional(numbers->front()) : std::nullopt;
}

QImage emptyPicture(const Theme& colours)
{
    QImage image{pictureSize, QImage::Format_ARGB32_Premultiplied};
    image.fill(colours.ground);
    return image;
}

/// The picture shows these bounds, with a margin.
GroundTransform transformOn(const geometry::Bounds& bounds)
{
    constexpr double margin = 1.2;
    const Vec extent = bounds.high - bounds.low;
    GroundTransform transform;
    transform.size = pictureSize;
    transform.centre = bounds.centre();
    transform.scale = std::min(pictureSize.width() / std::max(1e-3, extent.x * margin),
                               pictureSize.height() / std::max(1e-3, extent.y * margin));
    return transform;
}

/// The shapes alone, in the colours that they are given.
QImage pictureOf(const io::Drawing& drawing, const Theme& colours)
{
    QImage image = emptyPicture(colours);
    if (drawing.bounds.empty())
        return image;
    const GroundTransform transform = transformOn(drawing.bounds);
    QPainter painter{&image};
    painter.setRenderHint(QPainter::Antialiasing);
    for (const scene::Piece& piece : drawing.clip.pieces)
        for (const scene::Shape& shape : piece.shapes) {
            const bool isZone = shape.role == scene::Role::zone;
            const bool isLine = std::holds_alternative<scene::Line>(shape.geometry);
            painter.setPen(QPen{isZone ? colours.mint : colours.ink, 1.2, isZone ? Qt::DashLine : Qt::SolidLine});
            painter.setBrush(isLine ? QBrush{Qt::NoBrush}
                                    : QBrush{isZone ? withAlpha(colours.mint, 30) : colours.solid});
            painter.drawPath(shapePath(shape, {piece.at, piece.turn}, transform));
        }
    return image;
}

/// The ways of the pieces, each with its places.
QImage pictureOf(const std::vector<io::TrackTable>& tables, const Theme& colours)
{
    geometry::Bounds bounds;
    for (const io::TrackTable& table : tables)
        for (const io::Track& track : table.tracks)
            for (const scene::Input& place : track.places)
                bounds.include(place.as<scene::TrackPlace>()->at);
    QImage image = emptyPicture(colours);
    if (bounds.empty())
        return image;
    const GroundTransform transform = transformOn(bounds);
    QPainter painter{&image};
    painter.setRenderHint(QPainter::Antialiasing);
    for (const io::TrackTable& table : tables)
        for (const io::Track& track : table.tracks) {
            QPolygonF way;
            for (const scene::Input& place : track.places)
                way << transform.toView(place.as<scene::TrackPlace>()->at);
            painter.setPen(QPen{colours.blue, 1.4});
            painter.drawPolyline(way);
            painter.setPen(Qt::NoPen);
            painter.setBrush(colours.blue);
            for (const QPointF& at : way)
                painter.drawEllipse(at, 2.2, 2.2);
            painter.setPen(colours.ink);
            painter.drawText(way.front() + QPointF{6, -6}, toText(track.piece));
        }
    return image;
}

} // namespace

BringInDialog::BringInDialog(const QString& title, QWidget* parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("bringIn"));
    setWindowTitle(title);
    setAttribute(Qt::WA_DeleteOnClose);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(18, 14, 18, 12);
    column->setSpacing(8);
    picture_ = new QLabel;
    picture_->setObjectName(QStringLiteral("bringInPicture"));
    picture_->setAccessibleName(tr("How it will look"));
    picture_->setMinimumSize(pictureSize);
    picture_->setAlignment(Qt::AlignCenter);
    dress(picture_, [] {
        return QStringLiteral("background: %1; border: 1px solid %2")
            .arg(theme().ground.name(), theme().hairline.name());
    });
    column->addWidget(picture_, 1);
    said_ = new QLabel;
    said_->setObjectName(QStringLiteral("bringInSaid"));
    said_->setWordWrap(true);
    column->addWidget(said_);
    form_ = makeForm();
    column->addLayout(form_);
    notes_ = new QPlainTextEdit;
    notes_->setObjectName(QStringLiteral("bringInNotes"));
    notes_->setAccessibleName(tr("What is not brought in"));
    notes_->setReadOnly(true);
    notes_->setMaximumHeight(72);
    notes_->hide();
    column->addWidget(notes_);
    auto* foot = new QHBoxLayout;
    foot->addStretch(1);
    auto* cancel = new QPushButton{tr("Cancel")};
    cancel->setAutoDefault(false);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    take_ = new QPushButton{tr("Bring in")};
    take_->setObjectName(QStringLiteral("bringInTake"));
    take_->setDefault(true);
    take_->setEnabled(false);
    connect(take_, &QPushButton::clicked, this, [this] { take(); });
    foot->addWidget(cancel);
    foot->addWidget(take_);
    column->addLayout(foot);
}

void BringInDialog::tell(const QString& said, const QImage& picture, const std::vector<std::string>& notes,
                         bool canBeTaken)
{
    take_->setEnabled(canBeTaken);
    picture_->setPixmap(QPixmap::fromImage(picture));
    QStringList lines;
    for (const std::string& note : notes)
        lines << toText(note);
    notes_->setPlainText(lines.join(QLatin1Char('\n')));
    notes_->setVisible(!lines.isEmpty());
    said_->setText(said);
}

BringIn::BringIn(Document& document, Selection& selection, const QString& file, const geometry::Vec& middle,
                 QWidget* parent)
    : BringInDialog(tr("Bring in %1").arg(QFileInfo{file}.fileName()), parent), document_(document),
      selection_(selection), file_(file), middle_(middle)
{
    metres_ = new QLineEdit{QStringLiteral("1")};
    metres_->setObjectName(QStringLiteral("bringInMetres"));
    addFormRow(form_, tr("A unit of the drawing is"), metres_, tr("m"));
    tolerance_ = new QLineEdit{QStringLiteral("0.005")};
    tolerance_->setObjectName(QStringLiteral("bringInTolerance"));
    addFormRow(form_, tr("Curves may be off by"), tolerance_, tr("m: they become edges"));
    where_ = new QComboBox;
    where_->setObjectName(QStringLiteral("bringInWhere"));
    where_->addItems({tr("in the middle of the view"), tr("where the drawing has it")});
    addFormRow(form_, tr("It comes"), where_, {});
    connect(metres_, &QLineEdit::textChanged, this, &BringIn::read);
    connect(tolerance_, &QLineEdit::textChanged, this, &BringIn::read);
    connect(&reading_, &QFutureWatcherBase::finished, this, [this] {
        show(reading_.result());
        if (std::exchange(again_, false))
            read();
    });
    read();
}

BringIn::~BringIn()
{
    reading_.waitForFinished();
}

io::DrawingOptions BringIn::options() const
{
    return {lengthIn(*metres_).value_or(1), lengthIn(*tolerance_).value_or(0.005), false};
}

/// Read beside everything else; what is typed meanwhile is read next.
void BringIn::read()
{
    take_->setEnabled(false);
    if (!lengthIn(*metres_) || !lengthIn(*tolerance_))
        return said_->setText(tr("A length above 0, please."));
    if (reading_.isRunning()) {
        again_ = true;
        return;
    }
    said_->setText(tr("Reading …"));
    reading_.setFuture(QtConcurrent::run([file = file_, options = options(), colours = theme()] {
        Read result;
        const auto text = io::loadText(file.toStdString());
        if (!text) {
            result.problem = toText(text.error().message());
            return result;
        }
        auto drawing = io::piecesFrom(*text, file.toStdString(), options);
        if (!drawing) {
            result.problem = toText(drawing.error().message());
            return result;
        }
        result.picture = pictureOf(*drawing, colours);
        result.drawing = std::move(*drawing);
        return result;
    }));
}

void BringIn::show(const Read& read)
{
    drawing_ = read.drawing;
    if (!drawing_)
        return tell(read.problem, {}, {}, false);
    if (drawing_->clip.pieces.empty())
        return tell(tr("There is no shape in it that can be brought in."), {}, drawing_->notes, false);
    const geometry::Vec size = drawing_->bounds.high - drawing_->bounds.low;
    tell(tr("%1, together %2 × %3 m")
             .arg(counted(drawing_->clip.pieces.size(), tr("piece"), tr("pieces")),
                  figure(std::round(size.x * 100) / 100), figure(std::round(size.y * 100) / 100)),
         read.picture, drawing_->notes, !again_);
}

void BringIn::take()
{
    if (!drawing_)
        return;
    const geometry::Vec by = where_->currentIndex() == 0 ? middle_ - drawing_->bounds.centre() : geometry::Vec{0, 0};
    std::vector<std::string> made;
    std::vector<std::string> notes;
    document_.edit(tr("Bring in %1").arg(QFileInfo{file_}.fileName()), [&](scene::Scene& scene) {
        notes.clear();
        made = io::bringIn(scene, *drawing_, by, notes);
    });
    selection_.choosePieces(made);
    QString said = tr("%1 brought in").arg(counted(made.size(), tr("piece"), tr("pieces")));
    for (const std::string& note : notes)
        said += tr("; %1").arg(toText(note));
    emit taken(said);
    accept();
}

// --- tracks --------------------------------------------------------------------------------------------------------

BringInTracks::BringInTracks(Document& document, Selection& selection, const QStringList& files, QWidget* parent)
    : BringInDialog(files.size() == 1 ? tr("Bring in %1").arg(QFileInfo{files.front()}.fileName())
                                      : tr("Bring in tracks"),
                    parent),
      document_(document), selection_(selection), files_(files)
{
    metres_ = new QLineEdit{QStringLiteral("1")};
    metres_->setObjectName(QStringLiteral("bringInMetres"));
    addFormRow(form_, tr("A unit of length is"), metres_, tr("m"));
    seconds_ = new QLineEdit{QStringLiteral("1")};
    seconds_->setObjectName(QStringLiteral("bringInSeconds"));
    addFormRow(form_, tr("A unit of time is"), seconds_, tr("s"));
    drives_ = new QCheckBox{tr("make their pieces driven, add those that are not there")};
    drives_->setObjectName(QStringLiteral("bringInDrives"));
    drives_->setChecked(true);
    addFormRow(form_, tr("Pieces"), drives_, {});
    for (QLineEdit* field : {metres_, seconds_})
        connect(field, &QLineEdit::textChanged, this, &BringInTracks::read);
    connect(&reading_, &QFutureWatcherBase::finished, this, [this] {
        show(reading_.result());
        if (std::exchange(again_, false))
            read();
    });
    read();
}

BringInTracks::~BringInTracks()
{
    reading_.waitForFinished();
}

void BringInTracks::read()
{
    take_->setEnabled(false);
    if (!lengthIn(*metres_) || !lengthIn(*seconds_))
        return said_->setText(tr("A number above 0, please."));
    if (reading_.isRunning()) {
        again_ = true;
        return;
    }
    said_->setText(tr("Reading …"));
    reading_.setFuture(QtConcurrent::run([files = files_, metres = *lengthIn(*metres_), seconds = *lengthIn(*seconds_),
                                          colours = theme()] {
        Read result;
        for (const QString& file : files) {
            const auto text = io::loadText(file.toStdString());
            const auto table = text
                                   ? io::tracksFrom(*text, file.toStdString(),
                                                    {QFileInfo{file}.completeBaseName().toStdString(), metres, seconds})
                                   : tl::unexpected(text.error());
            if (!table) {
                result.problem = toText(table.error().message());
                return result;
            }
            result.tables.push_back(*table);
        }
        result.picture = pictureOf(result.tables, colours);
        return result;
    }));
}

void BringInTracks::show(const Read& read)
{
    tables_ = read.tables;
    if (!read.problem.isEmpty())
        return tell(read.problem, {}, {}, false);
    std::vector<std::string> notes;
    std::size_t pieces = 0;
    std::size_t places = 0;
    double end = 0;
    QStringList added;
    for (const io::TrackTable& table : tables_) {
        notes.insert(notes.end(), table.notes.begin(), table.notes.end());
        pieces += table.tracks.size();
        end = std::max(end, table.end());
        for (const io::Track& track : table.tracks) {
            places += track.places.size();
            if (!scene::findPiece(document_.scene(), track.piece))
                added << toText(track.piece);
        }
    }
    if (!added.isEmpty())
        notes.push_back(tr("not in the scene yet: %1").arg(added.join(QStringLiteral(", "))).toStdString());
    if (places == 0)
        return tell(tr("There is no place in it."), {}, notes, false);
    tell(tr("%1, %2, up to %3 s")
             .arg(counted(pieces, tr("piece"), tr("pieces")), counted(places, tr("place"), tr("places")),
                  figure(std::round(end * 1000) / 1000)),
         read.picture, notes, !again_);
}

void BringInTracks::take()
{
    const QString name = tr("Bring in tracks");
    const int gesture = document_.newGesture(); // one step of undo
    std::vector<std::string> led;
    if (drives_->isChecked())
        document_.edit(
            name,
            [&](scene::Scene& scene) {
                for (const io::TrackTable& table : tables_)
                    io::makeDriven(scene, table);
            },
            gesture);
    scene::Take take = document_.take();
    for (const io::TrackTable& table : tables_) {
        take = io::withTracks(std::move(take), table);
        for (const io::Track& track : table.tracks)
            if (scene::findPiece(document_.scene(), track.piece))
                led.push_back(track.piece);
    }
    document_.setTake(name, std::move(take), gesture);
    selection_.choosePieces(led);
    emit taken(tr("%1 led by the take").arg(counted(led.size(), tr("piece is"), tr("pieces are"))));
    accept();
}

} // namespace snare::app
