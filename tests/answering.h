// SPDX-License-Identifier: Apache-2.0
/// Hands for questions that come while a test waits, and eyes for what stands in files.
#pragma once

#include <QAbstractButton>
#include <QApplication>
#include <QFile>
#include <QMessageBox>
#include <QTimer>

namespace snare::tests {

inline QByteArray contentOf(const QString& path)
{
    QFile file{path};
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

/// Answers every message box with the button of that text, and keeps what the boxes said.
class Answering : public QObject {
  public:
    explicit Answering(QString button) : button_(std::move(button))
    {
        timer_.setInterval(5);
        connect(&timer_, &QTimer::timeout, this, [this] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (!box)
                return;
            for (QAbstractButton* one : box->buttons())
                if (one->text().remove(QLatin1Char('&')).startsWith(button_)) {
                    said << box->text();
                    one->click();
                    return;
                }
        });
        timer_.start();
    }
    QStringList said; ///< one for each question

  private:
    QString button_;
    QTimer timer_;
};

} // namespace snare::tests
