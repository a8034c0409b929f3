// SPDX-License-Identifier: Apache-2.0
/// The door to programs outside: OSC messages over UDP on the loopback, in and out, closed until it
/// is opened.
#pragma once

#include "app/model/document.h"
#include "app/model/stage.h"

#include <QUdpSocket>

namespace snare::app {

class OscPort : public QObject {
    Q_OBJECT

  public:
    OscPort(Document& document, Stage& stage, QObject* parent = nullptr);

    bool isOpen() const { return socket_.state() == QAbstractSocket::BoundState; }
    /// Listens on a port of the loopback, and tells signals to another; what is wrong, or nothing.
    QString open(quint16 in, quint16 out);
    void close();
    quint16 portIn() const { return socket_.localPort(); }

    int received() const { return received_; } ///< messages that became inputs
    int dropped() const { return dropped_; }   ///< packets and messages that did not
    int sent() const { return sent_; }
    const QString& last() const { return last_; } ///< what came or went last, in words

  signals:
    void changed();

  private:
    void read();
    void tellSignals();

    Document& document_;
    Stage& stage_;
    QUdpSocket socket_;
    quint16 out_ = 0;
    int received_ = 0;
    int dropped_ = 0;
    int sent_ = 0;
    QString last_;
    std::size_t told_ = 0; ///< lines of the journal that were looked at
    std::shared_ptr<const sim::Record> toldOf_;
};

} // namespace snare::app
