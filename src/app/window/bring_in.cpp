// SPDX-License-Identifier: Apache-2.0
#include "app/window/bring_in.h"

#include "app/ground/figures.h"
#include "app/ui/form_rows.h"
#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "io/document.h"

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

/// The shapes alone, in the colours that they are given.
QImage pictureOf(const io::Drawing& drawing, const Theme& colours)
{
    constexpr double margin = 1.1;
    QImage image{pictureSize, QImage::Format_ARGB32_Premultiplied};
    image.fill(colours.ground);
    if (drawing.bounds.empty())
        return image;
    const Vec extent = drawing.bounds.high - drawing.bounds.low;
    GroundTransform transform;
    transform.size = pictureSize;
    transform.centre = drawing.bounds.centre();
    transform.scale = std::min(pictureSize.width() / std::max(1e-3, extent.x * margin), pictureSize.height() / std::max(1e-3, extent.y * margin));
    QPainter painter{&image};
    painter.setRenderHint(QPainter::Antialiasing);
    for (const scene::Piece& piece : drawing.clip.pieces)
        for (const scene::Shape& shape : piece.shapes) {
            const bool isZone = shape.role == scene::Role::zone;
            const bool isLine = std::holds_alternative<scene::Line>(shape.geometry);
            painter.setPen(QPen{isZone ? colours.mint : colours.ink, 1.2, isZone ? Qt::DashLine : Qt::SolidLine});
            painter.setBrush(isLine ? QBrush{Qt::NoBrush} : QBrush{isZone ? withAlpha(colours.mint, 30) : colours.solid});
            painter.drawPath(shapePath(shape, {piece.at, piece.turn}, transform));
        }
    return image;
}

} // namespace

BringIn::BringIn(Document& document, Selection& selection, const QString& file, const geometry::Vec& middle, QWidget* parent)
    : QDialog(parent), document_(document), selection_(selection), file_(file), middle_(middle)
{
    setObjectName(QStringLiteral("bringIn"));
    setWindowTitle(tr("Bring in %1").arg(QFileInfo{file}.fileName()));
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
    dress(picture_, [] { return QStringLiteral("background: %1; border: 1px solid %2").arg(theme().ground.name(), theme().hairline.name()); });
    column->addWidget(picture_, 1);
    said_ = new QLabel;
    said_->setObjectName(QStringLiteral("bringInSaid"));
    said_->setWordWrap(true);
    column->addWidget(said_);
    QGridLayout* grid = makeForm();
    metres_ = new QLineEdit{QStringLiteral("1")};
    metres_->setObjectName(QStringLiteral("bringInMetres"));
    addFormRow(grid, tr("A unit of the drawing is"), metres_, tr("m"));
    tolerance_ = new QLineEdit{QStringLiteral("0.005")};
    tolerance_->setObjectName(QStringLiteral("bringInTolerance"));
    addFormRow(grid, tr("Curves may be off by"), tolerance_, tr("m: they become edges"));
    where_ = new QComboBox;
    where_->setObjectName(QStringLiteral("bringInWhere"));
    where_->addItems({tr("in the middle of the view"), tr("where the drawing has it")});
    addFormRow(grid, tr("It comes"), where_, {});
    column->addLayout(grid);
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
    connect(take_, &QPushButton::clicked, this, &BringIn::take);
    foot->addWidget(cancel);
    foot->addWidget(take_);
    column->addLayout(foot);
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
    const bool isSome = drawing_ && !drawing_->clip.pieces.empty();
    take_->setEnabled(isSome && !again_);
    picture_->setPixmap(isSome ? QPixmap::fromImage(read.picture) : QPixmap());
    notes_->setVisible(drawing_ && !drawing_->notes.empty());
    if (!drawing_)
        return said_->setText(read.problem);
    QStringList notes;
    for (const std::string& note : drawing_->notes)
        notes << toText(note);
    notes_->setPlainText(notes.join(QLatin1Char('\n')));
    if (!isSome)
        return said_->setText(tr("There is no shape in it that can be brought in."));
    const geometry::Vec size = drawing_->bounds.high - drawing_->bounds.low;
    said_->setText(tr("%1, together %2 × %3 m")
                       .arg(counted(drawing_->clip.pieces.size(), tr("piece"), tr("pieces")), figure(std::round(size.x * 100) / 100),
                            figure(std::round(size.y * 100) / 100)));
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
    emit done(said);
    accept();
}

} // namespace snare::app
