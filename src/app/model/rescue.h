// SPDX-License-Identifier: Apache-2.0
/// Rescue: unsaved work is written beside the settings a few seconds after a change, and offered
/// back after a crash.
///
/// Each running program has a file and a lock of its own. A file without a living owner is what a
/// crash left.
#pragma once

#include "app/model/document.h"

#include <QLockFile>
#include <QThreadPool>
#include <QTimer>

namespace snare::app {

class Rescue : public QObject {
    Q_OBJECT

  public:
    explicit Rescue(Document& document, QObject* parent = nullptr);
    ~Rescue() override;

    /// What an earlier program left behind.
    struct Found {
        QString file;
        QString path; ///< of the scene; may be empty
        QString when;
    };
    std::vector<Found> found() const;
    /// Puts it into the document. False if it cannot be read.
    bool bringBack(const Found& found);
    void discard(const Found& found);

    /// Writes now, as the timer would; for tests and before risky work.
    void writeNow();
    /// The document was closed on purpose.
    void clear();

    static QString folder();

  private:
    Document& document_;
    QString file_;
    std::unique_ptr<QLockFile> lock_;
    QTimer timer_;
    QThreadPool pool_;
};

} // namespace snare::app
