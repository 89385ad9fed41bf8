// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/parts_page.h"

#include "app/document/edits.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/quantity_field.h"
#include "app/widgets/text.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <cmath>

namespace badger::app
{

namespace
{

QString kindWords(parts::Kind kind)
{
    using K = parts::Kind;
    switch (kind) {
    case K::Cell:
        return QObject::tr("cells");
    case K::Supply:
        return QObject::tr("adapters, banks, ports");
    case K::Link:
        return QObject::tr("switch, fuse, diode");
    case K::Rail:
        return QObject::tr("rails and breadboards");
    case K::Support:
        return QObject::tr("third supports");
    case K::DriveServo:
        return QObject::tr("continuous servos");
    case K::Servo:
        return QObject::tr("pan servos");
    case K::Infrared:
        return QObject::tr("infrared modules");
    case K::Strip:
        return QObject::tr("infrared strips");
    case K::Reflectance:
        return QObject::tr("reflectance sensors");
    case K::Light:
        return QObject::tr("light sensors");
    case K::Led:
        return QObject::tr("LEDs");
    case K::Jumper:
        return QObject::tr("jumper wires");
    default:
        return str(parts::name(kind)) + "s";
    }
}

} // namespace

PartsPage::PartsPage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme.space(4));
    auto *left = new QVBoxLayout;
    m_kind = new QComboBox;
    m_kind->setObjectName("partsKind");
    m_kind->addItem(tr("all parts"), -1);
    m_kind->addItem(tr("your own"), -2);
    for (int i = 0; i < parts::kindCount; ++i)
        m_kind->addItem(kindWords(parts::Kind(i)), i);
    m_list = new QListWidget;
    m_list->setObjectName("partsList");
    m_list->setFixedWidth(qRound(210 * theme.scale()));
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_kind->setFixedWidth(m_list->maximumWidth());
    left->addWidget(m_kind);
    left->addWidget(m_list, 1);
    row->addLayout(left);

    auto *right = new QVBoxLayout;
    auto *head = new QHBoxLayout;
    m_name = new QLineEdit;
    m_name->setObjectName("partsName");
    m_name->setMaxLength(80);
    m_add = new QPushButton(tr("&Add to the car"));
    m_add->setObjectName("partsAdd");
    m_copy = new QPushButton(tr("&Copy as your own"));
    m_copy->setObjectName("partsCopy");
    m_delete = new QPushButton(tr("Delete"));
    m_delete->setObjectName("partsDelete");
    head->addWidget(m_name, 1);
    for (auto *b : {m_add, m_copy, m_delete})
        head->addWidget(b);
    right->addLayout(head);
    m_about = new QLabel;
    m_about->setProperty("small", true);
    m_about->setWordWrap(true);
    m_copyHere = new QPushButton(tr("Copy for this car only"));
    m_copyHere->setObjectName("partsCopyHere");
    m_copyHere->setProperty("link", true);
    auto *about = new QHBoxLayout;
    about->addWidget(m_about, 1);
    about->addWidget(m_copyHere);
    right->addLayout(about);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *content = new QWidget;
    auto *contentLayout = new QVBoxLayout(content);
    contentLayout->setContentsMargins(0, 0, theme.space(2), 0);
    m_grid = new QGridLayout;
    m_grid->setHorizontalSpacing(theme.space(2));
    m_grid->setVerticalSpacing(theme.space(1));
    contentLayout->addLayout(m_grid);
    contentLayout->addStretch(1);
    scroll->setWidget(content);
    right->addWidget(scroll, 1);
    row->addLayout(right, 1);
    connectEdits();
}

void PartsPage::connectEdits()
{
    connect(m_kind, &QComboBox::activated, this, &PartsPage::fillList);
    connect(m_list, &QListWidget::currentItemChanged, this, [this](QListWidgetItem *item) {
        m_chosen = item ? item->data(Qt::UserRole).toString() : QString();
        showPart();
    });
    connect(m_add, &QPushButton::clicked, this, [this] { emit addWanted(m_chosen); });
    connect(m_copy, &QPushButton::clicked, this, [this] { copyPart(false); });
    connect(m_copyHere, &QPushButton::clicked, this, [this] { copyPart(true); });
    connect(m_delete, &QPushButton::clicked, this, &PartsPage::deletePart);
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const auto text = m_name->text().trimmed().toStdString();
        const auto *part = m_session.catalogue().find(m_chosen.toStdString());
        if (part && isOwn(part->id) && !text.empty() && text != part->name)
            editOwn(tr("Name a part"), [&](parts::Part &p) { p.name = text; });
    });
}

bool PartsPage::isOwn(const std::string &id) const
{
    for (const auto &p : m_session.workshop().parts)
        if (p.id == id)
            return true;
    return false;
}

QStringList PartsPage::users(const std::string &id) const
{
    QStringList cars;
    for (const auto &car : m_session.workshop().cars)
        for (const auto &i : car.parts)
            if (i.partId == id && !cars.contains(str(car.name)))
                cars << str(car.name);
    return cars;
}

void PartsPage::fillList()
{
    const QSignalBlocker quiet(m_list);
    const int kind = m_kind->currentData().toInt();
    m_list->clear();
    QStringList seen;
    for (const auto &p : m_session.catalogue().parts()) {
        if ((kind >= 0 && int(p.kind) != kind) || (kind == -2 && !isOwn(p.id)) ||
            seen.contains(str(p.id)))
            continue;
        seen << str(p.id);
        auto *item = new QListWidgetItem(
            isOwn(p.id) ? tr("%1 · yours").arg(str(p.name)) : str(p.name), m_list);
        item->setData(Qt::UserRole, str(p.id));
        item->setToolTip(str(p.name));
        if (str(p.id) == m_chosen)
            m_list->setCurrentItem(item);
    }
    if (m_list->currentItem() == nullptr && m_list->count() > 0)
        m_list->setCurrentRow(0);
    m_chosen =
        m_list->currentItem() ? m_list->currentItem()->data(Qt::UserRole).toString() : QString();
    showPart();
}

void PartsPage::refresh()
{
    const auto *focus = window()->focusWidget();
    const auto name = focus && isAncestorOf(focus) ? focus->objectName() : QString();
    fillList();
    if (!name.isEmpty())
        for (auto *w : findChildren<QWidget *>(name))
            if (w->isVisibleTo(this))
                w->setFocus();
}

void PartsPage::choose(const QString &partId)
{
    m_kind->setCurrentIndex(0);
    m_chosen = partId;
    fillList();
}

void PartsPage::showPart()
{
    emptyLayout(*m_grid);
    const auto *part = m_session.catalogue().find(m_chosen.toStdString());
    const bool own = part && isOwn(part->id);
    m_name->setText(part ? str(part->name) : QString());
    m_name->setReadOnly(!own);
    for (auto *b : {m_add, m_copy})
        b->setEnabled(part != nullptr);
    m_delete->setVisible(own);
    m_copyHere->setVisible(false);
    if (part == nullptr) {
        m_about->setText(tr("No part of this kind is yours yet: pick one and copy it."));
        return;
    }
    const auto cars = users(part->id);
    auto about = own ? tr("Yours: every figure can be changed.")
                     : tr("Shipped with the program: copy it to change its figures.");
    if (!cars.isEmpty())
        about += " " + (cars.size() == 1
                            ? tr("Fitted to %1.").arg(cars.front())
                            : tr("Fitted to %1 cars: %2%3.")
                                  .arg(cars.size())
                                  .arg(cars.join(", "),
                                       own ? tr("; an edit changes all of them") : QString()));
    m_about->setText(about);
    m_copyHere->setVisible(own && cars.size() > 1 && cars.contains(m_session.carName()));
    m_row = 1; // below the headings
    for (const auto &[key, figure] : part->figures)
        addFigureRow(*part, key, own);
    for (const auto *list :
         {&parts::requiredFigures(part->kind), &parts::wantedFigures(part->kind)})
        for (const auto key : *list)
            if (part->figure(key) == nullptr)
                addFigureRow(*part, std::string(key), own);
    if (m_row == 1) {
        m_grid->addWidget(new QLabel(tr("No figure is needed of it.")), 0, 0);
        return;
    }
    int column = 2;
    for (const auto &text : {tr("typical"), tr("low"), tr("high")}) {
        auto *head = new QLabel(text);
        head->setProperty("small", true);
        head->setAlignment(Qt::AlignRight | Qt::AlignBottom);
        m_grid->addWidget(head, 0, column++);
    }
}

void PartsPage::addFigureRow(const parts::Part &part, const std::string &key, bool own)
{
    const auto *figure = part.figure(key);
    auto *name = new QLabel(str(parts::figureName(key)));
    name->setProperty("small", true);
    name->setWordWrap(true);
    m_grid->addWidget(name, m_row, 0);
    double least = 0.0;
    double most = 0.0;
    for (const auto &p : m_session.catalogue().parts())
        if (const auto *f = p.kind == part.kind ? p.figure(key) : nullptr)
            most = std::max(most, f->high);
    if (figure)
        m_grid->addWidget(new RangeBar(*figure, least, std::max(most, figure->high), m_theme),
                          m_row, 1);
    const auto edge = [&](const char *which, double parts::Figure::*member, int column) {
        const auto value = figure ? std::optional(figure->*member) : std::nullopt;
        if (!own) {
            auto *label = new QLabel(value ? figureText(key, *value) : tr("not known"));
            label->setProperty("figures", true);
            label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
            m_grid->addWidget(label, m_row, column);
            return;
        }
        auto *field = figureField(key, value, [this, key, member, which](double si) {
            editFigure(key, tr("Set a figure"), [&](parts::Figure &f) {
                f.*member = si;
                // The other two follow where they would contradict it; that is seen at once.
                if (std::string_view(which) == "typical") {
                    f.low = std::min(f.low, si);
                    f.high = std::max(f.high, si);
                }
            });
        });
        field->setObjectName(QStringLiteral("figure:%1:%2").arg(str(key), which));
        field->setFixedWidth(qRound(76 * m_theme.scale()));
        field->setAccessibleName(tr("%1, %2").arg(str(parts::figureName(key)), which));
        m_grid->addWidget(field, m_row, column);
    };
    edge("typical", &parts::Figure::typical, 2);
    edge("low", &parts::Figure::low, 3);
    edge("high", &parts::Figure::high, 4);
    addFigureSource(figure, key, own);
    m_grid->setColumnStretch(0, 3);
    m_grid->setColumnStretch(1, 2);
    m_grid->setColumnStretch(5, 4);
    ++m_row;
}

/// A field in which a figure is typed, with its unit where it has one.
QLineEdit *PartsPage::figureField(const std::string &key, std::optional<double> value,
                                  const std::function<void(double)> &take)
{
    const auto u = unitOf(key);
    if (u.dimension) {
        auto *quantity = new QuantityField(*u.dimension, u.unit);
        quantity->setValue(value);
        quantity->setHint(tr("not known"));
        connect(quantity, &QuantityField::taken, this, take);
        connect(quantity, &QuantityField::refused, this,
                [this](const QString &why) { emit m_session.said(why, true); });
        return quantity;
    }
    auto *field = new QLineEdit(value ? figureText(key, *value) : QString());
    connect(field, &QLineEdit::editingFinished, this, [this, field, take, value] {
        bool ok = false;
        const double v = field->text().toDouble(&ok);
        if (ok && (!value || std::abs(v - *value) > 1e-12))
            take(v);
        else if (!ok && !field->text().isEmpty())
            emit m_session.said(tr("'%1' is not a number.").arg(field->text()), true);
    });
    return field;
}

void PartsPage::addFigureSource(const parts::Figure *figure, const std::string &key, bool own)
{
    if (own && figure) {
        auto *source = new QLineEdit(str(figure->source));
        source->setObjectName("source:" + str(key));
        source->setToolTip(tr("where the figure comes from"));
        connect(source, &QLineEdit::editingFinished, this,
                [this, source, key, before = figure->source] {
                    const auto text = source->text().toStdString();
                    if (text != before)
                        editFigure(key, tr("Note a source"),
                                   [&](parts::Figure &f) { f.source = text; });
                });
        m_grid->addWidget(source, m_row, 5);
        return;
    }
    auto *source = new QLabel(figure ? str(figure->source) : tr("what rests on it is not judged"));
    source->setProperty("small", true);
    source->setWordWrap(true);
    m_grid->addWidget(source, m_row, 5);
}

} // namespace badger::app
