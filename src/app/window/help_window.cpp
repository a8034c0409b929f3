// SPDX-License-Identifier: Apache-2.0
#include "app/window/help_window.h"

#include "app/ui/text.h"
#include "app/ui/theme.h"
#include "app/window/key_sheet.h"
#include "check/reference.h"
#include "io/document.h"
#include "io/shipped.h"

#include <QDesktopServices>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QImageReader>
#include <QLineEdit>
#include <QRegularExpression>
#include <QScrollBar>
#include <QShortcut>
#include <QSplitter>
#include <QTextTable>
#include <QToolButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace snare::app {

namespace {

/// The pages that lie beside the program, and what they are called in the list.
struct ShippedPage {
    const char* id;
    const char* title;
};
constexpr std::array shippedPages{ShippedPage{"guide", QT_TR_NOOP("Guide")},
                                  ShippedPage{"semantics", QT_TR_NOOP("The rules")},
                                  ShippedPage{"motion", QT_TR_NOOP("Movement")},
                                  ShippedPage{"file-format", QT_TR_NOOP("Files and command line")}};

/// Cuts a page at its headings of the second level.
void addPage(std::vector<HelpSection>& sections, const QString& page, const QString& title, const QString& text)
{
    HelpSection now{page, title, {}, true};
    bool isCode = false;
    for (const QString& line : text.split(QLatin1Char('\n'))) {
        if (line.startsWith(QLatin1String("```")))
            isCode = !isCode;
        if (!isCode && line.startsWith(QLatin1String("## "))) {
            sections.push_back(std::move(now));
            now = {page, line.mid(3).trimmed(), {}, false};
        }
        now.text += line + QLatin1Char('\n');
    }
    sections.push_back(std::move(now));
}

/// A heading as links call it: "Exit codes of `snare`" is "exit-codes-of-snare".
QString slugOf(const QString& heading)
{
    static const QRegularExpression other{QStringLiteral("[^\\w\\- ]")};
    QString slug = heading.toLower();
    return slug.remove(other).replace(QLatin1Char(' '), QLatin1Char('-'));
}

bool hasHeading(const HelpSection& section, const QString& slug)
{
    if (slugOf(section.title) == slug)
        return true;
    for (const QString& line : section.text.split(QLatin1Char('\n')))
        if (line.startsWith(QLatin1String("###")) && slugOf(line.section(QLatin1Char(' '), 1)) == slug)
            return true;
    return false;
}

} // namespace

std::vector<HelpSection> helpSections(const QMenuBar& menus)
{
    std::vector<HelpSection> sections;
    for (const ShippedPage& page : shippedPages)
        if (const auto file = io::shippedFile(std::string("docs/") + page.id + ".md"); !file.empty())
            addPage(sections, QString::fromLatin1(page.id), QObject::tr(page.title),
                    toText(io::loadText(file).value_or(std::string())));
    if (sections.empty())
        addPage(sections, QStringLiteral("guide"), QObject::tr("Guide"),
                QObject::tr("# Guide\n\nThe guide is not installed: it comes with the package *fresh-snare-doc*."));
    for (const check::ReferencePage& page : check::referencePages())
        addPage(sections, toText(page.id), toText(page.title), toText(page.text));
    addPage(sections, QStringLiteral("keys"), QObject::tr("Keys and gestures"), keysText(menus));
    return sections;
}

QString helpTopicOf(const QWidget* widget)
{
    for (; widget; widget = widget->parentWidget())
        if (QString topic = widget->property("help").toString(); !topic.isEmpty())
            return topic;
    return {};
}

HelpText::HelpText(QWidget* parent) : QTextBrowser(parent)
{
    setObjectName(QStringLiteral("helpText"));
    setOpenLinks(false);
    setFrameShape(QFrame::NoFrame);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn); // the width does not depend on how long a page is
    document()->setDocumentMargin(18);
    onTheme(this, [this] {
        QPalette colours = palette();
        colours.setColor(QPalette::Base, theme().paper);
        colours.setColor(QPalette::Text, theme().ink);
        colours.setColor(QPalette::Link, theme().mintText);
        setPalette(colours);
        document()->setDefaultFont(textFont(1));
        lay();
    });
}

void HelpText::show(const QString& markdown, const QString& folder, const QString& searched)
{
    markdown_ = markdown;
    folder_ = folder;
    searched_ = searched;
    lay();
    verticalScrollBar()->setValue(0);
}

void HelpText::lay()
{
    laidFor_ = viewport()->width();
    document()->clear(); // and the pictures, that had another width
    setMarkdown(markdown_);
    // Tables get thin lines and room in their cells.
    for (QTextFrame* frame : document()->rootFrame()->childFrames())
        if (auto* table = qobject_cast<QTextTable*>(frame)) {
            QTextTableFormat format = table->format();
            format.setBorder(0.5);
            format.setBorderBrush(theme().hairline);
            format.setBorderStyle(QTextFrameFormat::BorderStyle_Solid);
            format.setBorderCollapse(true);
            format.setCellPadding(4);
            table->setFormat(format);
        }
    QList<QTextEdit::ExtraSelection> marks;
    for (const QString& word : searched_.split(QLatin1Char(' '), Qt::SkipEmptyParts))
        for (QTextCursor found = document()->find(word); !found.isNull(); found = document()->find(word, found)) {
            QTextEdit::ExtraSelection mark;
            mark.cursor = found;
            QColor colour = theme().ochre;
            colour.setAlpha(90);
            mark.format.setBackground(colour);
            marks.push_back(mark);
        }
    setExtraSelections(marks);
}

QVariant HelpText::loadResource(int type, const QUrl& name)
{
    if (type != QTextDocument::ImageResource || !name.scheme().isEmpty())
        return {};
    QImageReader reader{folder_ + QLatin1Char('/') + name.path()};
    const int room = std::max(100, viewport()->width() - 2 * static_cast<int>(document()->documentMargin()) - 4);
    QImage image = reader.read();
    if (image.width() > room)
        image = image.scaledToWidth(room, Qt::SmoothTransformation);
    return image;
}

void HelpText::resizeEvent(QResizeEvent* event)
{
    QTextBrowser::resizeEvent(event);
    if (viewport()->width() == laidFor_ || std::exchange(willLay_, true))
        return;
    // Not now: the text may be being laid out.
    QMetaObject::invokeMethod(
        this,
        [this] {
            willLay_ = false;
            const double part = verticalScrollBar()->maximum() > 0
                                    ? static_cast<double>(verticalScrollBar()->value()) / verticalScrollBar()->maximum()
                                    : 0;
            lay();
            verticalScrollBar()->setValue(static_cast<int>(part * verticalScrollBar()->maximum()));
        },
        Qt::QueuedConnection);
}

HelpWindow::HelpWindow(const QMenuBar& menus, QWidget* parent) : QDialog(parent), sections_(helpSections(menus))
{
    setObjectName(QStringLiteral("help"));
    setWindowTitle(tr("Help"));
    setAttribute(Qt::WA_DeleteOnClose);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    if (const auto guide = io::shippedFile("docs/guide.md"); !guide.empty())
        folder_ = QFileInfo{toText(guide.string())}.path();

    auto* side = new QWidget;
    auto* column = new QVBoxLayout{side};
    column->setContentsMargins(10, 10, 6, 10);
    auto* head = new QHBoxLayout;
    const auto way = [&](const QString& name, const QString& sign, const QString& tip, int by) {
        auto* button = new QToolButton;
        button->setObjectName(name);
        button->setText(sign);
        button->setToolTip(tip);
        button->setAccessibleName(tip);
        button->setAutoRaise(true);
        connect(button, &QToolButton::clicked, this, [this, by] { go(by); });
        head->addWidget(button);
        return button;
    };
    back_ = way(QStringLiteral("helpBack"), QStringLiteral("‹"), tr("Back (Alt+Left)"), -1);
    forth_ = way(QStringLiteral("helpForth"), QStringLiteral("›"), tr("Forth (Alt+Right)"), 1);
    connect(new QShortcut{QKeySequence{Qt::ALT | Qt::Key_Left}, this}, &QShortcut::activated, this, [this] { go(-1); });
    connect(new QShortcut{QKeySequence{Qt::ALT | Qt::Key_Right}, this}, &QShortcut::activated, this, [this] { go(1); });
    search_ = new QLineEdit;
    search_->setObjectName(QStringLiteral("helpSearch"));
    search_->setPlaceholderText(tr("Search (Ctrl+F)"));
    search_->setAccessibleName(tr("Search the help"));
    search_->setClearButtonEnabled(true);
    connect(new QShortcut{QKeySequence::Find, this}, &QShortcut::activated, this, [this] {
        search_->setFocus(Qt::ShortcutFocusReason);
        search_->selectAll();
    });
    head->addWidget(search_, 1);
    column->addLayout(head);
    list_ = new QTreeWidget;
    list_->setObjectName(QStringLiteral("helpList"));
    list_->setAccessibleName(tr("Pages"));
    list_->setHeaderHidden(true);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setIndentation(14);
    column->addWidget(list_, 1);
    text_ = new HelpText{this};
    auto* across = new QSplitter;
    across->addWidget(side);
    across->addWidget(text_);
    across->setStretchFactor(1, 1);
    across->setSizes({250, 690});
    auto* layout = new QVBoxLayout{this};
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(across);
    resize(940, 680);

    buildList();
    connect(search_, &QLineEdit::textChanged, this, &HelpWindow::search);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        list_->setFocus(Qt::OtherFocusReason);
        if (QTreeWidgetItem* next = list_->currentItem() ? list_->itemBelow(list_->currentItem()) : nullptr)
            list_->setCurrentItem(next);
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this](const QTreeWidgetItem* item) { showItem(item); });
    connect(text_, &QTextBrowser::anchorClicked, this, &HelpWindow::follow);
    showTopic(sections_.front().topic());
    search_->setFocus(Qt::OtherFocusReason);
}

void HelpWindow::buildList()
{
    QTreeWidgetItem* page = nullptr;
    for (std::size_t i = 0; i < sections_.size(); ++i) {
        const HelpSection& section = sections_[i];
        auto* item = section.isBeginning || !page ? new QTreeWidgetItem{list_} : new QTreeWidgetItem{page};
        item->setText(0, section.title);
        item->setData(0, Qt::UserRole, static_cast<int>(i));
        if (section.isBeginning)
            page = item;
    }
    if (QTreeWidgetItem* first = list_->topLevelItem(0))
        first->setExpanded(true);
}

/// Only what has all the words stays; the first whose title has them is shown.
void HelpWindow::search(const QString& words)
{
    const QStringList wanted = words.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    const auto has = [&](const QString& text) {
        return std::ranges::all_of(wanted,
                                   [&](const QString& word) { return text.contains(word, Qt::CaseInsensitive); });
    };
    QTreeWidgetItem* best = nullptr;
    int bestRank = 0; // 3: it is called so, 2: its title has the words, 1: its text has them
    const auto look = [&](QTreeWidgetItem* item) {
        const HelpSection& section = sections_[item->data(0, Qt::UserRole).toUInt()];
        const bool isCalledSo = section.title.compare(words.trimmed(), Qt::CaseInsensitive) == 0;
        const int rank = isCalledSo ? 3 : has(section.title) ? 2 : has(section.text) ? 1 : 0;
        if (rank > bestRank) {
            best = item;
            bestRank = rank;
        }
        return rank > 0;
    };
    for (int i = 0; i < list_->topLevelItemCount(); ++i) {
        QTreeWidgetItem* page = list_->topLevelItem(i);
        bool isThere = look(page);
        for (int k = 0; k < page->childCount(); ++k) {
            const bool found = look(page->child(k));
            page->child(k)->setHidden(!found);
            isThere = isThere || found;
        }
        page->setHidden(!isThere);
        page->setExpanded(isThere && (!wanted.isEmpty() || i == 0));
    }
    if (wanted.isEmpty())
        return text_->show(
            sections_[list_->currentItem() ? list_->currentItem()->data(0, Qt::UserRole).toUInt() : 0].text, folder_,
            {});
    if (best)
        list_->setCurrentItem(best);
    if (best)
        showItem(best); // with other words marked, if it was shown before
}

void HelpWindow::showItem(const QTreeWidgetItem* item)
{
    if (!item)
        return;
    const HelpSection& section = sections_[item->data(0, Qt::UserRole).toUInt()];
    QString text = section.text;
    if (section.isBeginning && item->childCount() > 0) { // of which parts it is made
        text += QLatin1Char('\n');
        for (int i = 0; i < item->childCount(); ++i)
            text += QStringLiteral("- [%1](#%2)\n").arg(item->child(i)->text(0), slugOf(item->child(i)->text(0)));
    }
    text_->show(text, folder_, search_->text());
    if (topic_ == section.topic())
        return;
    topic_ = section.topic();
    setWindowTitle(tr("%1 – Help").arg(section.title));
    if (at_ < 0 || visited_[at_] != topic_) {
        visited_ = visited_.mid(0, at_ + 1);
        visited_ << topic_;
        at_ = static_cast<int>(visited_.size()) - 1;
    }
    refreshWays();
}

void HelpWindow::showTopic(const QString& topic)
{
    const QString page = topic.section(QLatin1Char('#'), 0, 0);
    const QString part = slugOf(topic.section(QLatin1Char('#'), 1));
    QTreeWidgetItem* found = nullptr;
    for (QTreeWidgetItemIterator it{list_}; *it; ++it) {
        const HelpSection& section = sections_[(*it)->data(0, Qt::UserRole).toUInt()];
        if (section.page != page)
            continue;
        if (section.isBeginning && !found)
            found = *it;
        if (!part.isEmpty() && !section.isBeginning && hasHeading(section, part)) {
            found = *it;
            break;
        }
    }
    if (!found)
        return;
    if (found->isHidden())
        search_->clear();
    for (QTreeWidgetItem* above = found->parent(); above; above = above->parent())
        above->setExpanded(true);
    list_->setCurrentItem(found);
    list_->scrollToItem(found);
}

void HelpWindow::follow(const QUrl& link)
{
    if (!link.scheme().isEmpty()) {
        QDesktopServices::openUrl(link);
        return;
    }
    const QString page =
        link.path().isEmpty() ? topic_.section(QLatin1Char('#'), 0, 0) : QFileInfo{link.path()}.completeBaseName();
    showTopic(page + QLatin1Char('#') + link.fragment());
}

void HelpWindow::go(int by)
{
    const int to = at_ + by;
    if (to < 0 || to >= visited_.size())
        return;
    at_ = to;
    showTopic(visited_[to]);
    refreshWays();
}

void HelpWindow::refreshWays()
{
    back_->setEnabled(at_ > 0);
    forth_->setEnabled(at_ + 1 < visited_.size());
}

} // namespace snare::app
