// SPDX-License-Identifier: Apache-2.0
#include "app/window/settings_page.h"

#include "app/ui/form_rows.h"
#include "app/ui/settings.h"
#include "app/ui/text.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QEvent>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace snare::app {

namespace {

constexpr const char* usualKey = "usualKey";

QString keyText(const QAction& command)
{
    return command.shortcut().toString(QKeySequence::PortableText);
}

QLabel* titleLabel(const QString& text)
{
    auto* label = new QLabel{text};
    label->setFont(textFont(0.5, true));
    return label;
}

/// A choice of several, told by their words; `now` is the one that holds.
QComboBox* choice(const QString& name, const QStringList& words, int now, const std::function<void(int)>& choose)
{
    auto* box = new QComboBox;
    box->setObjectName(name);
    box->addItems(words);
    box->setCurrentIndex(now);
    QObject::connect(box, &QComboBox::activated, box, choose);
    return box;
}

/// "Compare with › " for a command of a menu within a menu.
QString menuBefore(const QAction& command)
{
    for (const QObject* object : command.associatedObjects())
        if (const auto* menu = qobject_cast<const QMenu*>(object))
            for (const QObject* around : menu->menuAction()->associatedObjects())
                if (qobject_cast<const QMenu*>(around))
                    return menu->title().remove(QLatin1Char('&')) + QStringLiteral(" › ");
    return {};
}

template <class List, class Value> int placeIn(const List& list, Value value)
{
    return static_cast<int>(std::ranges::find(list, value) - list.begin());
}

} // namespace

void applyChosenKeys(const QList<QAction*>& commands)
{
    for (QAction* command : commands) {
        if (!command->property(usualKey).isValid())
            command->setProperty(usualKey, keyText(*command));
        const QString usual = command->property(usualKey).toString();
        if (const QString key = Settings::keyOf(commandName(*command), usual); key != keyText(*command))
            command->setShortcut(QKeySequence::fromString(key, QKeySequence::PortableText));
    }
}

SettingsPage::SettingsPage(QList<QAction*> commands, const std::function<void(SchemeWish)>& setScheme, QWidget* parent)
    : QDialog(parent), commands_(std::move(commands))
{
    setObjectName(QStringLiteral("settings"));
    setWindowTitle(tr("Settings"));
    setAttribute(Qt::WA_DeleteOnClose);
    setAutoFillBackground(true);
    onTheme(this, [this] { fillWith(this, theme().panel); });
    auto* column = new QVBoxLayout{this};
    column->setContentsMargins(18, 14, 18, 12);
    column->setSpacing(8);
    buildChoices(column, setScheme);
    buildKeys(column);
    resize(700, 660);
}

void SettingsPage::buildChoices(QVBoxLayout* column, const std::function<void(SchemeWish)>& setScheme)
{
    Settings& settings = Settings::instance();
    QGridLayout* grid = makeForm();
    addFormRow(grid, tr("Colours"),
               choice(QStringLiteral("settingColours"), {tr("as the desktop"), tr("light"), tr("dark")},
                      static_cast<int>(schemeWish()),
                      [setScheme](int which) { setScheme(static_cast<SchemeWish>(which)); }),
               {});
    QStringList sizes;
    for (const int size : Settings::sizes)
        sizes << tr("%1 %").arg(size);
    addFormRow(grid, tr("Size"),
        choice(QStringLiteral("settingSize"), sizes, placeIn(Settings::sizes, settings.size()),
               [&settings](int which) { settings.setSize(Settings::sizes[static_cast<std::size_t>(which)]); }),
        tr("of text and everything else; from the next start on"));
    QStringList steps;
    for (const double step : Settings::gridSteps)
        steps << tr("%1 m").arg(figure(step));
    addFormRow(grid, tr("Grid"),
        choice(QStringLiteral("settingGrid"), steps, placeIn(Settings::gridSteps, settings.gridStep()),
               [&settings](int which) { settings.setGridStep(Settings::gridSteps[static_cast<std::size_t>(which)]); }),
        tr("on which drawing and dragging fall; Alt suspends it"));
    addFormRow(grid, tr("A new scene"),
               choice(QStringLiteral("settingNewScene"),
                      {tr("asks how it is seen"), tr("is seen from above"), tr("is seen from the side")},
                      static_cast<int>(settings.newScene()),
                      [&settings](int which) { settings.setNewScene(static_cast<NewSceneWish>(which)); }),
               {});
    QStringList asides;
    for (const int seconds : Settings::keepAsides)
        asides << tr("after %1 s").arg(seconds);
    addFormRow(grid, tr("Unsaved work is kept"),
               choice(QStringLiteral("settingKeepAside"), asides, placeIn(Settings::keepAsides, settings.keepAside()),
                      [&settings](int which) {
                          settings.setKeepAside(Settings::keepAsides[static_cast<std::size_t>(which)]);
                      }),
               tr("beside the settings, and offered back after a crash"));
    const auto check = [&](const QString& name, bool now, const QString& words, auto&& set) {
        auto* box = new QCheckBox{words};
        box->setObjectName(name);
        box->setChecked(now);
        connect(box, &QCheckBox::toggled, this, set);
        grid->addWidget(box, grid->rowCount(), 1, 1, 2);
    };
    check(QStringLiteral("settingSounds"), settings.sounds(), tr("Sounds are heard while a take plays"),
          [&settings](bool on) { settings.setSounds(on); });
    check(QStringLiteral("settingShowsAll"), settings.showsAll(), tr("Cards show every field, not only what is set"),
          [&settings](bool on) { settings.setShowsAll(on); });
    column->addLayout(grid);
}

void SettingsPage::buildKeys(QVBoxLayout* column)
{
    auto* head = new QHBoxLayout;
    head->addWidget(titleLabel(tr("Keys of commands")));
    head->addStretch(1);
    search_ = new QLineEdit;
    search_->setObjectName(QStringLiteral("settingKeySearch"));
    search_->setPlaceholderText(tr("Search a command or a key"));
    search_->setAccessibleName(search_->placeholderText());
    search_->setClearButtonEnabled(true);
    search_->setMinimumWidth(220);
    connect(search_, &QLineEdit::textChanged, this, &SettingsPage::filterKeys);
    head->addWidget(search_);
    column->addSpacing(6);
    column->addLayout(head);
    keys_ = new QTableWidget{0, 2};
    keys_->setObjectName(QStringLiteral("settingKeys"));
    keys_->setAccessibleName(tr("Keys of commands"));
    keys_->setHorizontalHeaderLabels({tr("Command"), tr("Key")});
    keys_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    keys_->horizontalHeader()->setHighlightSections(false);
    keys_->setColumnWidth(1, 190);
    keys_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    keys_->horizontalHeader()->setFont(textFont(-0.5));
    keys_->verticalHeader()->setDefaultSectionSize(QFontMetrics{textFont()}.height() + 8);
    keys_->verticalHeader()->hide();
    keys_->setShowGrid(false);
    keys_->setSelectionBehavior(QAbstractItemView::SelectRows);
    keys_->setSelectionMode(QAbstractItemView::SingleSelection);
    keys_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    keys_->setTabKeyNavigation(false);
    keys_->installEventFilter(this);
    connect(keys_, &QTableWidget::cellDoubleClicked, this, &SettingsPage::askKey);
    column->addWidget(keys_, 1);
    auto* foot = new QHBoxLayout;
    const auto button = [&](const QString& name, const QString& words, const QString& tip, auto&& act) {
        auto* one = new QPushButton{words};
        one->setObjectName(name);
        one->setToolTip(tip);
        one->setAutoDefault(false);
        connect(one, &QPushButton::clicked, this, act);
        foot->addWidget(one);
    };
    button(QStringLiteral("settingKeySet"), tr("Another key…"), tr("Return, or a double click"), [this] { askKey(); });
    button(QStringLiteral("settingKeyNone"), tr("No key"), tr("Del"), [this] { setKey(chosen(), {}); });
    button(QStringLiteral("settingKeyUsual"), tr("The usual one"), {}, [this] {
        if (QAction* command = chosen())
            setKey(command, command->property(usualKey).toString());
    });
    button(QStringLiteral("settingKeysUsual"), tr("All usual"), tr("All commands get their usual keys back"), [this] {
        for (const QAction* command : std::as_const(commands_))
            Settings::forgetKey(commandName(*command));
        applyChosenKeys(commands_);
        fillKeys();
        said_->setText(tr("All commands have their usual keys."));
    });
    foot->addStretch(1);
    button(QStringLiteral("settingsClose"), tr("Close"), {}, [this] { close(); });
    said_ = new QLabel;
    said_->setObjectName(QStringLiteral("settingSaid"));
    said_->setWordWrap(true);
    colourText(said_, &Theme::coralText);
    column->addWidget(said_);
    column->addLayout(foot);
    fillKeys();
}

void SettingsPage::fillKeys()
{
    const int row = std::max(0, keys_->currentRow());
    keys_->setRowCount(static_cast<int>(commands_.size()));
    for (int i = 0; i < commands_.size(); ++i) {
        const QAction& command = *commands_[i];
        const bool isOwn = keyText(command) != command.property(usualKey).toString();
        auto* name = new QTableWidgetItem{menuBefore(command) + commandName(command)};
        auto* key = new QTableWidgetItem{command.shortcut().toString(QKeySequence::NativeText)};
        if (isOwn)
            key->setToolTip(tr("Chosen; the usual one is %1").arg(command.property(usualKey).toString()));
        QFont font = figureFont(-0.5);
        font.setBold(isOwn);
        key->setFont(font);
        keys_->setItem(i, 0, name);
        keys_->setItem(i, 1, key);
    }
    keys_->setCurrentCell(std::min(row, keys_->rowCount() - 1), 1);
    filterKeys(search_->text());
}

void SettingsPage::filterKeys(const QString& words)
{
    int first = -1;
    for (int i = 0; i < keys_->rowCount(); ++i) {
        const QString synonyms = commands_[i]->data().toString();
        const QString text =
            keys_->item(i, 0)->text() + QLatin1Char(' ') + keys_->item(i, 1)->text() + QLatin1Char(' ') + synonyms;
        const bool fits = text.contains(words.trimmed(), Qt::CaseInsensitive);
        keys_->setRowHidden(i, !fits);
        if (fits && first < 0)
            first = i;
    }
    if (first >= 0 && (keys_->currentRow() < 0 || keys_->isRowHidden(keys_->currentRow())))
        keys_->setCurrentCell(first, 1);
}

QAction* SettingsPage::chosen() const
{
    const int row = keys_->currentRow();
    return row >= 0 && row < commands_.size() && !keys_->isRowHidden(row) ? commands_[row] : nullptr;
}

/// The next keys that are pressed become the command's; Esc leaves it as it is.
void SettingsPage::askKey()
{
    QAction* command = chosen();
    if (!command)
        return;
    said_->setText(tr("Press the key for “%1”; Esc leaves it as it is.").arg(commandName(*command)));
    auto* edit = new QKeySequenceEdit;
    edit->setObjectName(QStringLiteral("settingKeyEdit"));
    edit->setProperty("command", QVariant::fromValue<QObject*>(command));
    edit->installEventFilter(this);
    keys_->setCellWidget(keys_->currentRow(), 1, edit);
    edit->setFocus(Qt::OtherFocusReason);
    connect(edit, &QKeySequenceEdit::editingFinished, this, [this, edit, command] {
        const QKeySequence keys = edit->keySequence();
        QMetaObject::invokeMethod(
            this,
            [this, command, keys] {
                keys_->removeCellWidget(keys_->currentRow(), 1);
                keys_->setFocus(Qt::OtherFocusReason);
                if (keys.isEmpty())
                    said_->clear();
                else
                    setKey(command, keys.toString(QKeySequence::PortableText));
            },
            Qt::QueuedConnection);
    });
}

/// A key belongs to one command only.
void SettingsPage::setKey(QAction* command, const QString& key)
{
    if (!command)
        return;
    for (const QAction* other : std::as_const(commands_))
        if (!key.isEmpty() && other != command && keyText(*other) == key) {
            said_->setText(tr("%1 is the key of “%2”: give that another one first.").arg(key, commandName(*other)));
            return;
        }
    if (key == command->property(usualKey).toString())
        Settings::forgetKey(commandName(*command));
    else
        Settings::setKey(commandName(*command), key);
    applyChosenKeys(commands_);
    fillKeys();
    said_->setText(key.isEmpty() ? tr("“%1” has no key now.").arg(commandName(*command))
                                 : tr("“%1” is %2 now.").arg(commandName(*command), key));
}

bool SettingsPage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() != QEvent::KeyPress)
        return QDialog::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (watched == keys_ && (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)) {
        askKey();
        return true;
    }
    if (watched == keys_ && key->key() == Qt::Key_Delete) {
        setKey(chosen(), {});
        return true;
    }
    if (key->key() == Qt::Key_Escape && watched->objectName() == QLatin1String("settingKeyEdit")) {
        keys_->removeCellWidget(keys_->currentRow(), 1);
        keys_->setFocus(Qt::OtherFocusReason);
        said_->clear();
        return true;
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace snare::app
