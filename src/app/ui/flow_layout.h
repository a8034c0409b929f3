// SPDX-License-Identifier: Apache-2.0
/// Lays widgets out like words: side by side, and on to the next line where the width ends.
#pragma once

#include <QLayout>

#include <vector>

namespace snare::app {

class FlowLayout : public QLayout {
    Q_OBJECT

  public:
    /// A widget with this property set to true stands on a line with the one after it.
    static constexpr const char* keepsNext = "keepsNext";

    explicit FlowLayout(QWidget* parent = nullptr, int gap = 4, int lineGap = 3);
    ~FlowLayout() override;

    /// Gives all widgets that stand in it so far a topic of the help.
    void giveHelp(const QString& topic);

    void addItem(QLayoutItem* item) override;
    int count() const override;
    QLayoutItem* itemAt(int index) const override;
    QLayoutItem* takeAt(int index) override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize minimumSize() const override;
    QSize sizeHint() const override { return minimumSize(); }
    void setGeometry(const QRect& rect) override;
    Qt::Orientations expandingDirections() const override { return {}; }

  private:
    int place(const QRect& rect, bool reallyMove) const;

    std::vector<QLayoutItem*> items_;
    int gap_;
    int lineGap_;
};

} // namespace snare::app
