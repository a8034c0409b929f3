// SPDX-License-Identifier: Apache-2.0
#include "app/ui/sums.h"

#include <QRegularExpression>

#include <cmath>

namespace snare::app {

namespace {

/// Reads from left to right; `at` is where.
class SumReader {
  public:
    explicit SumReader(QString text) : text_(std::move(text)) {}

    std::optional<double> whole()
    {
        const auto value = sum();
        skip();
        return at_ == text_.size() && value && std::isfinite(*value) ? value : std::nullopt;
    }

  private:
    static constexpr int mostDeep = 50;

    void skip()
    {
        while (at_ < text_.size() && text_[at_].isSpace())
            ++at_;
    }

    bool take(char sign)
    {
        skip();
        if (at_ >= text_.size() || text_[at_] != QLatin1Char(sign))
            return false;
        ++at_;
        return true;
    }

    std::optional<double> sum()
    {
        std::optional<double> value = product();
        while (value) {
            const bool plus = take('+');
            if (!plus && !take('-'))
                break;
            const auto next = product();
            value = next ? std::optional(plus ? *value + *next : *value - *next) : std::nullopt;
        }
        return value;
    }

    std::optional<double> product()
    {
        std::optional<double> value = factor();
        while (value) {
            const bool times = take('*');
            if (!times && !take('/'))
                break;
            const auto next = factor();
            value = next ? std::optional(times ? *value * *next : *value / *next) : std::nullopt;
        }
        return value;
    }

    std::optional<double> factor()
    {
        if (++depth_ > mostDeep)
            return std::nullopt;
        std::optional<double> value;
        if (take('-')) {
            if (const auto inner = factor())
                value = -*inner;
        } else if (take('(')) {
            value = sum();
            if (!take(')'))
                value.reset();
        } else {
            value = number();
        }
        --depth_;
        return value;
    }

    std::optional<double> number()
    {
        skip();
        static const QRegularExpression plain{QStringLiteral(R"(\G[0-9]*\.?[0-9]+(?:[eE][-+]?[0-9]+)?)")};
        const auto match = plain.match(text_, at_);
        if (!match.hasMatch())
            return std::nullopt;
        at_ = match.capturedEnd();
        return match.captured().toDouble();
    }

    QString text_;
    qsizetype at_ = 0;
    int depth_ = 0;
};

} // namespace

std::optional<double> sumOf(const QString& typed)
{
    static const QRegularExpression unit{QStringLiteral(R"(\s*(?:[a-zµ°²³%/]*[a-z°²³%])\s*$)")};
    QString text = typed.trimmed();
    text.remove(unit);
    return SumReader{text}.whole();
}

} // namespace snare::app
