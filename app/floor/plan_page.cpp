// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/plan_page.h"

#include "app/floor/mat_sheets.h"
#include "app/floor/take_drawing.h"
#include "app/widgets/quantity_field.h"
#include "app/widgets/text.h"
#include "core/floor/as_svg.h"
#include "core/io/floor_file.h"
#include "core/io/storage.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>
#include <cmath>

namespace badger::app
{

PlanPage::PlanPage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, theme.space(2));
    column->setSpacing(theme.space(1));
    m_verdict = new QLabel;
    m_verdict->setObjectName("planVerdict");
    m_verdict->setWordWrap(true);
    column->addWidget(m_verdict);
    column->addWidget(makeTools());
    auto *middle = new QHBoxLayout;
    middle->setSpacing(theme.space(3));
    m_view = new PlanView(theme);
    middle->addWidget(m_view, 1);
    middle->addWidget(makeSide());
    column->addLayout(middle, 1);
    connect(m_view, &PlanView::pickedChanged, this, [this] { showNumbers(); });
    connect(m_view, &PlanView::dragged, this, [this] { emit runWanted(m_view->floor()); });
    connect(m_view, &PlanView::changed, this, [this](const floor::Floor &after, int drag) {
        keep(tr("Move %1").arg(nameOfPicked()), after, drag);
    });
    connect(m_view, &PlanView::removeWanted, this, &PlanPage::remove);
}

QWidget *PlanPage::makeTools()
{
    auto *holder = new QWidget;
    auto *row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(m_theme.space(1));
    auto *label = new QLabel(tr("Add"));
    label->setProperty("small", true);
    row->addWidget(label);
    const auto tool = [&](const QString &text, const char *name, const QString &tip, auto slot) {
        auto *button = new QPushButton(text);
        button->setObjectName(name);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, slot);
        row->addWidget(button);
        m_tools.push_back(button);
        return button;
    };
    using floor::NewThing;
    for (const auto &[text, name, what] : {std::tuple(tr("wall"), "addWall", NewThing::Wall),
                                           {tr("box"), "addBox", NewThing::Box},
                                           {tr("post"), "addPost", NewThing::Post},
                                           {tr("line"), "addLine", NewThing::Line},
                                           {tr("mover"), "addMover", NewThing::Mover}})
        tool(text, name, tr("In the middle of the plan"), [this, w = what] { add(w); });
    row->addSpacing(m_theme.space(2));
    m_remove =
        tool(tr("take away"), "removeThing", tr("What is picked (Delete)"), &PlanPage::remove);
    row->addStretch(1);
    m_floors = new FloorChoice(m_session, "planFloors");
    row->addWidget(m_floors);
    connect(m_floors, &FloorChoice::newWanted, this, &PlanPage::newFloorWanted);
    const auto link = [&](const QString &text, const char *name, const QString &tip, auto slot) {
        auto *button = tool(text, name, tip, slot);
        button->setProperty("link", true);
        return button;
    };
    link(tr("Read ..."), "readFloor", tr("A floor from an SVG drawing or from a file of its own"),
         &PlanPage::askRead);
    m_tools.pop_back(); // it needs none
    link(tr("Save or print ..."), "saveFloor",
         tr("As an SVG drawing, as a file of its own, or as a mat at 1:1 over several sheets"),
         &PlanPage::askSave);
    return holder;
}

QWidget *PlanPage::makeSide()
{
    auto *side = new QWidget;
    side->setFixedWidth(qRound(206 * m_theme.scale()));
    auto *column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(m_theme.space(1));
    m_what = new QLabel;
    m_what->setObjectName("planWhat");
    m_what->setProperty("heading", true);
    column->addWidget(m_what);
    m_name = new QLineEdit;
    m_name->setObjectName("planName");
    m_name->setAccessibleName(tr("Name"));
    column->addWidget(m_name);
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const auto name = m_name->text().trimmed().toStdString();
        if (!m_view->floor() || name.empty())
            return;
        const auto &f = *m_view->floor();
        if (!m_view->picked()) {
            if (name == f.name)
                return;
            auto after = f;
            after.name = name;
            return keep(tr("Name the floor"), after);
        }
        if (name != floor::nameOf(f, *m_view->picked()))
            keep(tr("Name %1").arg(str(name)), floor::renamed(f, *m_view->picked(), name));
    });
    m_form = new QGridLayout;
    m_form->setHorizontalSpacing(m_theme.space(2));
    m_form->setVerticalSpacing(m_theme.space(1));
    column->addLayout(m_form);
    column->addStretch(1);
    return side;
}

QString PlanPage::nameOfPicked() const
{
    const auto &h = m_view->picked();
    if (!h)
        return str(m_view->floor()->name);
    const auto name = floor::nameOf(*m_view->floor(), *h);
    return !name.empty()                   ? str(name)
           : h->kind == floor::Kind::Start ? tr("the start")
                                           : tr("the edge");
}

void PlanPage::refresh()
{
    const auto *f = m_session.floor();
    m_floors->refresh();
    for (auto *w : m_tools)
        w->setEnabled(f != nullptr);
    if (!f) {
        m_view->clear();
        m_verdict->setText(
            tr("The workshop has no floor yet. Make one from a few numbers, or read a drawing."));
        showNumbers();
        return;
    }
    if (const auto piece = m_session.floorPiece(); m_view->floor() != piece)
        m_view->show(piece);
    showNumbers();
    if (m_session.car() == nullptr || m_session.program() == nullptr)
        m_verdict->setText(tr("%1 as it is drawn.").arg(str(f->name)));
    else
        emit runWanted(nullptr);
}

void PlanPage::showRun(const ShownRun &run, const QString &verdict)
{
    if (!m_view->floor())
        return;
    m_view->showRun(run);
    m_verdict->setText(verdict);
}

void PlanPage::keep(const QString &text, const floor::Floor &after, int drag)
{
    if (const auto drives = arena::compile(after); !drives) {
        emit m_session.said(str(drives.error().text()), true);
        m_view->show(m_session.floorPiece());
        return showNumbers();
    }
    const bool kept = m_session.edit(
        text,
        [&](workshop::Workshop &w) {
            for (size_t i = 0; i < w.floors.size(); ++i)
                if (std::as_const(w.floors)[i].id == after.id)
                    w.floors[i] = after;
        },
        drag);
    if (!kept)
        refresh();
}

void PlanPage::add(floor::NewThing what)
{
    const auto f = m_view->floor();
    floor::Handle made;
    const auto after =
        floor::with(*f, what, floor::snapped({f->width_m / 2.0, f->depth_m / 2.0}), made);
    keep(tr("Add %1").arg(str(floor::nameOf(after, made))), after);
    if (m_view->floor() && *m_view->floor() == after) {
        m_view->pick(made);
        m_view->setFocus();
    }
}

void PlanPage::remove()
{
    const auto h = m_view->picked();
    if (!h || h->kind == floor::Kind::Start)
        return;
    const auto name = nameOfPicked();
    const auto after = floor::without(*m_view->floor(), *h);
    m_view->pick({});
    keep(tr("Take %1 away").arg(name), after);
}

void PlanPage::showNumbers()
{
    const auto &f = m_view->floor();
    const auto &h = m_view->picked();
    m_remove->setEnabled(f && h && h->kind != floor::Kind::Start);
    m_name->setVisible(f && (!h || !floor::nameOf(*f, *h).empty()));
    for (auto *w : m_fields) {
        w->hide();
        w->deleteLater();
    }
    m_fields.clear();
    if (!f) {
        m_what->clear();
        return;
    }
    static const char *const kinds[] = {
        QT_TR_NOOP("Start"), QT_TR_NOOP("Wall"),  QT_TR_NOOP("Post"), QT_TR_NOOP("Line"),
        QT_TR_NOOP("Mover"), QT_TR_NOOP("Shade"), QT_TR_NOOP("Edge")};
    m_what->setText(!h ? tr("The floor")
                    : h->kind == floor::Kind::Wall && floor::wallsOf(*f, h->index).size() > 1
                        ? tr("Walls")
                        : tr(kinds[size_t(h->kind)]));
    m_name->setText(str(h ? floor::nameOf(*f, *h) : f->name));
    showNumbers(h ? floor::numbersOf(*f, *h) : floor::numbersOf(*f));
    if (h && h->kind == floor::Kind::Wall)
        addFaces();
}

void PlanPage::put(const floor::Number &n, double si)
{
    if (!(si >= n.low - 1e-9 && si <= n.high + 1e-9)) {
        emit m_session.said(tr("%1 goes from %2 to %3 here.")
                                .arg(tr(n.name), str(units::quantity(n.low, n.unit)),
                                     str(units::quantity(n.high, n.unit))),
                            true);
        return showNumbers();
    }
    auto after = *m_view->floor();
    n.put(after, si);
    keep(tr("%1 of %2").arg(tr(n.name), nameOfPicked()), after);
}

/// A share is typed in percent, everything else with its unit.
QWidget *PlanPage::fieldOf(const floor::Number &n)
{
    if (n.unit == units::Unit::Count) {
        auto *share = new QSpinBox;
        share->setRange(qRound(n.low * 100), qRound(n.high * 100));
        share->setSuffix(tr(" %"));
        share->setValue(qRound(n.si * 100));
        connect(share, &QSpinBox::editingFinished, this, [this, n, share] {
            if (share->value() != qRound(n.si * 100))
                put(n, share->value() / 100.0);
        });
        return share;
    }
    auto *field = new QuantityField(units::info(n.unit).dimension,
                                    units::shownIn(n.unit, listener().display));
    field->setValue(n.si);
    connect(field, &QuantityField::taken, this, [this, n](double si) { put(n, si); });
    return field;
}

void PlanPage::showNumbers(const std::vector<floor::Number> &numbers)
{
    int row = 0;
    for (const auto &n : numbers) {
        auto *label = new QLabel(tr(n.name));
        label->setProperty("small", true);
        auto *field = fieldOf(n);
        field->setObjectName("number-" + str(n.name));
        field->setAccessibleName(tr(n.name));
        m_form->addWidget(label, row, 0);
        m_form->addWidget(field, row, 1);
        m_fields.insert(m_fields.end(), {label, field});
        ++row;
    }
}

/// How a wall answers a ping.
void PlanPage::addFaces()
{
    const auto &f = *m_view->floor();
    const size_t index = m_view->picked()->index;
    auto *label = new QLabel(tr("face"));
    label->setProperty("small", true);
    auto *box = new QComboBox;
    box->setObjectName("planFace");
    box->addItems({tr("board"), tr("rough"), tr("cloth"), tr("foam")});
    box->setCurrentIndex(int(f.walls[index].face));
    connect(box, &QComboBox::activated, this, [this, index](int face) {
        auto after = *m_view->floor();
        for (const size_t i : floor::wallsOf(after, index))
            after.walls[i].face = floor::Face(face);
        keep(tr("Face of %1").arg(nameOfPicked()), after);
    });
    const int row = m_form->rowCount();
    m_form->addWidget(label, row, 0);
    m_form->addWidget(box, row, 1);
    m_fields.insert(m_fields.end(), {label, box});
}

std::optional<Sum> PlanPage::sum() const
{
    Sum sum;
    const auto &f = m_view->floor();
    if (!f)
        return sum;
    sum.result = tr("%1 × %2").arg(cm(f->width_m, 0), cm(f->depth_m, 0));
    const auto part = [&](size_t count, const QString &one, const QString &more) {
        if (count > 0)
            sum.parts.push_back({QString::number(count), count == 1 ? one : more});
    };
    part(f->walls.size(), tr("wall"), tr("walls"));
    part(f->posts.size(), tr("post"), tr("posts"));
    part(f->lines.size(), tr("line"), tr("lines"));
    part(f->movers.size(), tr("mover"), tr("movers"));
    sum.parts.push_back({str(units::quantity(f->air_degC, units::Unit::Celsius, 1)), tr("air")});
    sum.aside = tr("the plan of %1").arg(str(f->name));
    return sum;
}

void PlanPage::askRead()
{
    const auto path = QFileDialog::getOpenFileName(
        this, tr("Read a floor"), {}, tr("Drawings and floors (*.svg *.json);;All files (*)"));
    if (!path.isEmpty())
        readFile(path);
}

void PlanPage::readFile(const QString &path)
{
    const auto refuse = [&](const Error &e) { emit m_session.said(str(e.text()), true); };
    const auto text = io::readFile(path.toStdString());
    if (!text)
        return refuse(text.error());
    const auto first = text->find_first_not_of(" \t\r\n");
    if (first != std::string::npos && (*text)[first] == '{') {
        auto read = io::readFloor(*text);
        if (!read)
            return refuse(read.error());
        if (const auto drives = arena::compile(*read); !drives)
            return refuse(drives.error());
        return takeFloor(m_session, std::move(*read));
    }
    auto drawing = drawing::readSvg(*text, QFileInfo(path).fileName().toStdString());
    if (!drawing)
        return refuse(drawing.error());
    auto *dialog = new TakeDrawing(m_session, m_theme, std::move(*drawing),
                                   QFileInfo(path).completeBaseName(), window());
    dialog->show();
}

void PlanPage::askSave()
{
    const auto name = str(m_view->floor()->name);
    QString chosen;
    const auto svg = tr("SVG drawing, 1:1 (*.svg)");
    const auto json = tr("A floor's own file (*.json)");
    const auto mat = tr("Mat at 1:1 over several sheets (*.pdf)");
    auto path = QFileDialog::getSaveFileName(this, tr("Save or print the floor"), name,
                                             QStringList{svg, json, mat}.join(";;"), &chosen);
    if (path.isEmpty())
        return;
    const auto suffix = QFileInfo(path).suffix().toLower();
    const bool named = suffix == "svg" || suffix == "json" || suffix == "pdf";
    const auto kind = named ? suffix : chosen == json ? "json" : chosen == mat ? "pdf" : "svg";
    if (!named)
        path += "." + kind;
    if (kind == "svg")
        saveSvg(path);
    else if (kind == "json")
        saveJson(path);
    else
        saveMat(path);
}

void PlanPage::save(const QString &path, const std::string &text)
{
    if (const auto saved = io::saveFile(path.toStdString(), text); !saved)
        emit m_session.said(str(saved.error().text()), true);
    else
        emit m_session.said(tr("Written: %1").arg(QFileInfo(path).fileName()), false);
}

void PlanPage::saveSvg(const QString &path)
{
    const auto left = floor::notInSvg(*m_view->floor());
    save(path, floor::asSvg(*m_view->floor()));
    if (!left.empty())
        emit m_session.said(tr("Not in the drawing: %1. The floor's own file has all.")
                                .arg(str(joined(left, ", "))),
                            true);
}

void PlanPage::saveJson(const QString &path)
{
    save(path, io::writeFloor(*m_view->floor()));
}

void PlanPage::saveMat(const QString &path)
{
    const auto sheets = saveMatPdf(path, *m_view->floor());
    if (!sheets)
        emit m_session.said(str(sheets.error().text()), true);
    else
        emit m_session.said(
            tr("%1 sheets, overlapping by 1 cm: print them at 100 %, and measure the bar on the "
               "first.")
                .arg(*sheets),
            false);
}

} // namespace badger::app
