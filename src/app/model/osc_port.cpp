// SPDX-License-Identifier: Apache-2.0
#include "app/model/osc_port.h"

#include "app/ui/words.h"
#include "desk/osc.h"

namespace snare::app {

namespace {

constexpr int mostPacketsAtOnce = 200; ///< the rest waits: the window stays alive

} // namespace

OscPort::OscPort(Document& document, Stage& stage, QObject* parent)
    : QObject(parent), document_(document), stage_(stage)
{
    connect(&socket_, &QUdpSocket::readyRead, this, &OscPort::read);
    connect(&stage_, &Stage::modeChanged, this, [this] {
        told_ = 0;
        toldOf_.reset();
    });
    connect(&stage_, &Stage::recordChanged, this, &OscPort::tellSignals);
}

QString OscPort::open(quint16 in, quint16 out)
{
    close();
    out_ = out;
    received_ = dropped_ = sent_ = 0;
    last_.clear();
    QString wrong = socket_.bind(QHostAddress::LocalHost, in) ? QString() : socket_.errorString();
    emit changed();
    return wrong;
}

void OscPort::close()
{
    if (!isOpen())
        return;
    socket_.close();
    emit changed();
}

void OscPort::read()
{
    for (int i = 0; i < mostPacketsAtOnce && socket_.hasPendingDatagrams(); ++i) {
        QByteArray packet{std::max<qsizetype>(0, socket_.pendingDatagramSize()), '\0'};
        packet.resize(std::max<qint64>(0, socket_.readDatagram(packet.data(), packet.size())));
        const auto messages = desk::messagesIn(
            {reinterpret_cast<const std::uint8_t*>(packet.constData()), static_cast<std::size_t>(packet.size())});
        if (!messages) {
            ++dropped_;
            last_ = tr("dropped a packet that is not OSC");
            continue;
        }
        for (const desk::OscMessage& message : *messages) {
            std::string why;
            auto input = desk::inputOf(message, document_.scene(), &why);
            if (!input) {
                ++dropped_;
                last_ = tr("dropped %1: %2").arg(toText(message.address), toText(why));
                continue;
            }
            ++received_;
            last_ = stage_.mode() == Stage::Mode::recording
                        ? tr("in  %1").arg(toText(message.address))
                        : tr("in  %1, which counts only while recording").arg(toText(message.address));
            stage_.input(std::move(*input));
        }
    }
    if (socket_.hasPendingDatagrams())
        QMetaObject::invokeMethod(this, &OscPort::read, Qt::QueuedConnection);
    emit changed();
}

/// Signals that are marked for outside go out while the scene is played live.
void OscPort::tellSignals()
{
    if (stage_.mode() != Stage::Mode::recording)
        return;
    const sim::Record& record = stage_.record();
    const auto& lines = record.journal.lines;
    // After an edit while recording the part so far is run again: what it raised was told already.
    if (toldOf_ && toldOf_ != stage_.sharedRecord())
        told_ = lines.size();
    toldOf_ = stage_.sharedRecord();
    const auto& outgoing = record.scene->outgoing;
    bool any = false;
    for (; told_ < lines.size(); ++told_) {
        const rules::Line& line = lines[told_];
        const std::string word = record.journal.textOf(line);
        const bool goes = line.kind == rules::LineKind::event && line.event == rules::EventKind::heard &&
                          std::ranges::find(outgoing, word) != outgoing.end();
        if (!goes || !isOpen() || out_ == 0)
            continue;
        const auto packet = desk::packetOf(desk::messageOf(word, record.valuesOf(static_cast<std::int32_t>(told_))));
        socket_.writeDatagram(reinterpret_cast<const char*>(packet.data()), static_cast<qint64>(packet.size()),
                              QHostAddress::LocalHost, out_);
        ++sent_;
        last_ = tr("out  /%1").arg(toText(word));
        any = true;
    }
    if (any)
        emit changed();
}

} // namespace snare::app
