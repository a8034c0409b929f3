// SPDX-License-Identifier: Apache-2.0
#include "app/model/sounds.h"

#include "app/ui/words.h"

#include <QAudioOutput>
#include <QAudioSink>
#include <QBuffer>
#include <QDir>
#include <QFileInfo>
#include <QMediaDevices>
#include <QMediaPlayer>
#include <QSet>

#include <array>
#include <cmath>
#include <functional>

namespace snare::app {

namespace {

constexpr int samplesPerSecond = 22'050;
constexpr double toneSeconds = 0.18;
/// More sounds at once than this are not heard: one more is left out.
constexpr int mostAtOnce = 24;

/// A tone that fades, as 16-bit samples.
QByteArray toneOf(double pitch, double gain)
{
    const auto count = static_cast<int>(toneSeconds * samplesPerSecond);
    QByteArray samples;
    samples.reserve(qsizetype{count} * 2);
    for (int i = 0; i < count; ++i) {
        const double t = static_cast<double>(i) / samplesPerSecond;
        const double swell = std::min(1.0, t / 0.004) * std::exp(-t * 22) * (1 - t / toneSeconds);
        const double wave =
            std::sin(2 * 3.14159265358979 * pitch * t) + 0.3 * std::sin(4 * 3.14159265358979 * pitch * t);
        const auto sample = static_cast<std::int16_t>(std::clamp(wave * swell * gain * 0.4, -1.0, 1.0) * 32'000);
        samples.append(static_cast<char>(sample & 0xFF));
        samples.append(static_cast<char>(sample >> 8));
    }
    return samples;
}

} // namespace

/// Works in the thread of its own.
class SoundPlayer : public QObject {
  public:
    explicit SoundPlayer(std::function<void(const QString& path, const QString& why)> failed)
        : failed_(std::move(failed))
    {
    }

    void tone(const QString& name, double gain)
    {
        const QAudioDevice device = QMediaDevices::defaultAudioOutput();
        QAudioFormat format;
        format.setSampleRate(samplesPerSecond);
        format.setChannelCount(1);
        format.setSampleFormat(QAudioFormat::Int16);
        if (device.isNull() || !device.isFormatSupported(format) || children().size() >= mostAtOnce)
            return;
        auto* sink = new QAudioSink{device, format, this};
        auto* samples = new QBuffer{sink};
        samples->setData(toneOf(pitchOf(name.toStdString()), gain));
        samples->open(QIODevice::ReadOnly);
        connect(sink, &QAudioSink::stateChanged, sink, [sink](QAudio::State state) {
            if (state == QAudio::IdleState || state == QAudio::StoppedState)
                sink->deleteLater();
        });
        sink->start(samples);
    }

    void file(const QString& path, double gain)
    {
        const QAudioDevice device = QMediaDevices::defaultAudioOutput();
        if (device.isNull() || children().size() >= mostAtOnce)
            return;
        auto* player = new QMediaPlayer{this};
        auto* output = new QAudioOutput{device, player};
        output->setVolume(static_cast<float>(std::min(gain, 1.0)));
        player->setAudioOutput(output);
        connect(player, &QMediaPlayer::mediaStatusChanged, player, [player](QMediaPlayer::MediaStatus status) {
            if (status == QMediaPlayer::EndOfMedia || status == QMediaPlayer::InvalidMedia)
                player->deleteLater();
        });
        connect(player, &QMediaPlayer::errorOccurred, player,
                [this, path](QMediaPlayer::Error /*error*/, const QString& why) { failed_(path, why); });
        player->setSource(QUrl::fromLocalFile(path));
        player->play();
    }

  private:
    std::function<void(const QString& path, const QString& why)> failed_;
};

double pitchOf(std::string_view name)
{
    constexpr std::array<double, 12> pitches{196, 220, 262, 294, 330, 392, 440, 523, 587, 659, 784, 880};
    std::uint32_t mixed = 2'166'136'261U;
    for (const char letter : name)
        mixed = (mixed ^ static_cast<unsigned char>(letter)) * 16'777'619U;
    return pitches[mixed % pitches.size()];
}

Sounds::Sounds(Document& document, Stage& stage, QObject* parent)
    : QObject(parent), document_(document), stage_(stage),
      player_(new SoundPlayer{[this](const QString& path, const QString& why) {
          QMetaObject::invokeMethod(this, [this, path, why] {
              sayOnce(QFileInfo(path).fileName(),
                      tr("The sound %1 cannot be played: %2").arg(QFileInfo(path).fileName(), why));
          });
      }})
{
    player_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, player_, &QObject::deleteLater);
    connect(&stage_, &Stage::cursorChanged, this, &Sounds::follow);
    connect(&stage_, &Stage::modeChanged, this, [this] { told_ = stage_.cursor() > 0 ? stage_.cursor() : -1; });
}

Sounds::~Sounds()
{
    if (!thread_.isRunning()) {
        delete player_;
        return;
    }
    thread_.quit();
    thread_.wait();
}

void Sounds::sayOnce(const QString& what, const QString& message)
{
    if (said_.contains(what))
        return;
    said_.insert(what);
    emit failed(message);
}

void Sounds::follow()
{
    const std::int64_t now = stage_.cursor();
    const std::int64_t from = std::exchange(told_, now);
    const sim::Record& record = stage_.record();
    // A jump is no playing: a span that starts over, or a take that was run again.
    if (stage_.mode() == Stage::Mode::still || now <= from || now - from > record.scene->rate)
        return;
    for (std::int64_t tick = from + 1; tick <= now; ++tick)
        for (const rules::Line& line : record.linesOf(tick))
            if (line.kind == rules::LineKind::response && line.response == scene::numberOf<scene::Sound>)
                sound(toText(record.journal.textOf(line)), line.number);
}

void Sounds::sound(const QString& what, double gain)
{
    emit sounded(what, gain);
    if (!on_ || gain <= 0)
        return;
    if (!thread_.isRunning())
        thread_.start();
    const QFileInfo file{QFileInfo(document_.filePath()).dir().filePath(what)};
    if (file.isFile() && file.isReadable()) {
        const QString path = file.absoluteFilePath();
        QMetaObject::invokeMethod(player_, [player = player_, path, gain] { player->file(path, gain); });
        return;
    }
    // What ends like a file should be one; the others are names that whoever plays the scene
    // elsewhere knows.
    if (!file.suffix().isEmpty())
        sayOnce(what, tr("The sound %1 is not beside the scene").arg(what));
    QMetaObject::invokeMethod(player_, [player = player_, what, gain] { player->tone(what, gain); });
}

} // namespace snare::app
