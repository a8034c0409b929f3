// SPDX-License-Identifier: Apache-2.0
#include "app/slots/files_beside.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>

namespace snare::app {

namespace {

bool haveSameBytes(const QString& one, const QString& other)
{
    QFile a{one};
    QFile b{other};
    return a.size() == b.size() && a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly) &&
           a.readAll() == b.readAll();
}

} // namespace

std::optional<QString> copyBeside(Document& document, const QString& file)
{
    if (document.filePath().isEmpty()) {
        emit document.problem(
            QObject::tr("Save the scene first: %1 is copied beside it").arg(QFileInfo{file}.fileName()));
        return std::nullopt;
    }
    const QDir folder = QFileInfo{document.filePath()}.absoluteDir();
    const QString relative = folder.relativeFilePath(QFileInfo{file}.absoluteFilePath());
    if (!relative.startsWith(QLatin1String("..")) && QDir::isRelativePath(relative))
        return relative;
    const QFileInfo from{file};
    for (int number = 1; number < 1000; ++number) {
        const QString name =
            number == 1 ? from.fileName()
                        : QStringLiteral("%1-%2.%3").arg(from.completeBaseName()).arg(number).arg(from.suffix());
        const QString to = folder.filePath(name);
        if (QFileInfo::exists(to)) {
            if (haveSameBytes(file, to))
                return name;
            continue;
        }
        if (QFile::copy(file, to))
            return name;
        break;
    }
    emit document.problem(QObject::tr("%1 cannot be copied to %2").arg(from.fileName(), folder.path()));
    return std::nullopt;
}

void takeFileBeside(QWidget* window, Document& document, const QString& title, const QString& filter,
                    const std::function<void(const QString& name)>& taken)
{
    auto* dialog = new QFileDialog{window, title, QFileInfo{document.filePath()}.path(), filter};
    dialog->setObjectName(QStringLiteral("takeFile"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    QObject::connect(dialog, &QFileDialog::fileSelected, window, [&document, taken](const QString& file) {
        if (const auto name = copyBeside(document, file))
            taken(*name);
    });
    dialog->open();
}

} // namespace snare::app
