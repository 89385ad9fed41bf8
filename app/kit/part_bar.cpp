// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/part_bar.h"

#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "core/power/feeds.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

namespace badger::app
{

using parts::Kind;
using units::Dimension;
using units::Unit;

namespace
{

constexpr int mostCells = 40; // as in the schema

} // namespace

PartBar::PartBar(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(1));
    for (auto &row : m_rows) {
        row = new QHBoxLayout;
        row->setSpacing(theme.space(1));
        layout->addLayout(row);
    }
}

void PartBar::clear()
{
    for (auto *row : m_rows)
        emptyLayout(*row);
}

void PartBar::addLabel(const QString &text, QWidget *buddy, int row)
{
    auto *label = new QLabel(text);
    label->setProperty("small", true);
    label->setBuddy(buddy);
    m_rows[row]->addWidget(label);
    m_rows[row]->addWidget(buddy);
    m_rows[row]->addSpacing(m_theme.space(1));
}

void PartBar::editPart(const QString &text, const std::function<void(kit::Instance &)> &edit)
{
    emit edited(text, [id = m_instance.toStdString(), edit](kit::Car &car) {
        for (auto &i : car.parts)
            if (i.id == id)
                edit(i);
    });
}

QuantityField *PartBar::addQuantity(const QString &label, const QString &name, Dimension dimension,
                                    Unit unit, std::optional<double> value, int row,
                                    std::function<void(kit::Instance &, double)> set)
{
    auto *field = new QuantityField(dimension, unit);
    field->setObjectName(name);
    field->setAccessibleName(label);
    field->setValue(value);
    field->setFixedWidth(qRound((dimension == Dimension::Angle ? 62 : 70) * m_theme.scale()));
    connect(field, &QuantityField::taken, this, [this, label, set](double si) {
        editPart(tr("Set %1").arg(label), [&](kit::Instance &i) { set(i, si); });
    });
    connect(field, &QuantityField::refused, this, &PartBar::refused);
    addLabel(label, field, row);
    return field;
}

QSpinBox *PartBar::addCount(const QString &label, const QString &name, int value, int row,
                            std::function<void(kit::Instance &, int)> set)
{
    auto *box = new QSpinBox;
    box->setObjectName(name);
    box->setAccessibleName(label);
    box->setRange(1, mostCells);
    box->setValue(value);
    box->setKeyboardTracking(false); // a number counts when it is whole
    box->setFixedWidth(qRound(44 * m_theme.scale()));
    connect(box, &QSpinBox::valueChanged, this, [this, label, set](int n) {
        editPart(tr("Set %1").arg(label), [&](kit::Instance &i) { set(i, n); });
    });
    addLabel(label, box, row);
    return box;
}

QComboBox *PartBar::addChoice(const QString &label, const QString &name, const QStringList &words,
                              int current, int row, std::function<void(int)> chosen)
{
    auto *box = new QComboBox;
    box->setObjectName(name);
    box->setAccessibleName(label);
    box->addItems(words);
    box->setCurrentIndex(current);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(7);
    connect(box, &QComboBox::activated, this, [chosen](int i) { chosen(i); });
    addLabel(label, box, row);
    return box;
}

void PartBar::show(const kit::Car &car, const parts::Catalogue &catalogue, const QString &instance)
{
    // A field that has the focus keeps it when the bar is made anew after its edit.
    const auto *focus = window()->focusWidget();
    const auto name = focus && isAncestorOf(focus) ? focus->objectName() : QString();
    clear();
    m_instance = instance;
    const auto *fitted = car.instance(instance.toStdString());
    if (fitted == nullptr) {
        showCar(car);
    } else {
        showWhat(car, catalogue, *fitted);
        showPlace(car, catalogue, *fitted);
        showFeeds(car, catalogue, *fitted);
        showButtons();
    }
    for (auto *row : m_rows)
        row->addStretch(1);
    if (name.isEmpty())
        return;
    for (auto *w : findChildren<QWidget *>(name))
        if (w->isVisibleTo(this)) {
            w->setFocus();
            break;
        }
}

void PartBar::showCar(const kit::Car &car)
{
    const auto &g = car.geometry;
    const auto measure = [&](const QString &label, const char *name, double value, int row,
                             std::function<void(kit::Geometry &, double)> set) {
        auto *field = new QuantityField(Dimension::Length, Unit::Millimetre);
        field->setObjectName(name);
        field->setAccessibleName(label);
        field->setValue(value);
        field->setFixedWidth(qRound(80 * m_theme.scale()));
        connect(field, &QuantityField::taken, this, [this, label, set](double si) {
            emit edited(tr("Set %1").arg(label), [&](kit::Car &c) { set(c.geometry, si); });
        });
        connect(field, &QuantityField::refused, this, &PartBar::refused);
        addLabel(label, field, row);
    };
    measure(tr("length"), "carLength", g.length_m, 0,
            [](kit::Geometry &x, double v) { x.length_m = v; });
    measure(tr("width"), "carWidth", g.width_m, 0,
            [](kit::Geometry &x, double v) { x.width_m = v; });
    measure(tr("track"), "carTrack", g.track_m, 0,
            [](kit::Geometry &x, double v) { x.track_m = v; });
    measure(tr("axle from nose"), "carAxle", g.axleToNose_m, 0,
            [](kit::Geometry &x, double v) { x.axleToNose_m = v; });
    addChoice(tr("deck"), "carDeck", {tr("rectangle"), tr("disc"), tr("two discs")}, int(g.deck), 0,
              [this](int i) {
                  emit edited(tr("Set the deck"), [i](kit::Car &c) {
                      auto &x = c.geometry;
                      x.deck = kit::DeckShape(i);
                      // The disc that fills the car's width; two of them end at nose and tail.
                      if (x.deck != kit::DeckShape::Rectangle && x.discRadius_m <= 0.0)
                          x.discRadius_m = x.width_m / 2.0;
                      if (x.deck == kit::DeckShape::TwoDiscs && x.discsApart_m <= 0.0)
                          x.discsApart_m = std::max(0.01, x.length_m - 2.0 * x.discRadius_m);
                  });
              });
    if (g.deck != kit::DeckShape::Rectangle)
        measure(tr("radius"), "discRadius", g.discRadius_m, 1,
                [](kit::Geometry &x, double v) { x.discRadius_m = v; });
    if (g.deck == kit::DeckShape::TwoDiscs)
        measure(tr("centres apart"), "discsApart", g.discsApart_m, 1,
                [](kit::Geometry &x, double v) { x.discsApart_m = v; });
}

void PartBar::showWhat(const kit::Car &, const parts::Catalogue &catalogue,
                       const kit::Instance &fitted)
{
    const auto *part = catalogue.find(fitted.partId);
    QStringList words;
    QStringList ids;
    for (const auto &p : catalogue.parts()) {
        if (p.kind != part->kind || ids.contains(str(p.id)))
            continue;
        words << str(p.name);
        ids << str(p.id);
    }
    auto *choice = addChoice(str(fitted.id), "partChoice", words, int(ids.indexOf(str(part->id))),
                             0, [this, ids](int i) { emit exchangeWanted(m_instance, ids[i]); });
    choice->setMinimumContentsLength(15);
    auto *label = new QLineEdit(str(fitted.label));
    label->setObjectName("partLabel");
    label->setPlaceholderText(tr("your own"));
    label->setMaxLength(80);
    label->setFixedWidth(qRound(96 * m_theme.scale()));
    connect(label, &QLineEdit::editingFinished, this, [this, label, before = fitted.label] {
        const auto text = label->text().trimmed().toStdString();
        if (text != before)
            editPart(tr("Label a part"), [&](kit::Instance &i) { i.label = text; });
    });
    addLabel(tr("label"), label, 0);
    if (part->kind == Kind::Cell) {
        addCount(tr("in series"), "cellsInSeries", fitted.cellsInSeries, 0,
                 [](kit::Instance &i, int n) { i.cellsInSeries = n; });
        addCount(tr("in parallel"), "cellsInParallel", fitted.cellsInParallel, 0,
                 [](kit::Instance &i, int n) { i.cellsInParallel = n; });
    }
    if (part->kind == Kind::Buzzer)
        addChoice(tr("driven"), "buzzerDriven", {tr("by a tone"), tr("on and off")}, fitted.plain,
                  0, [this](int i) {
                      editPart(tr("Say how the buzzer is driven"),
                               [i](kit::Instance &b) { b.plain = i == 1; });
                  });
    if (!fitted.otherCells.empty()) {
        auto *one = new QPushButton(tr("Only one kind"));
        one->setObjectName("oneKind");
        one->setToolTip(tr("Remove the cells of other kinds from the holder"));
        connect(one, &QPushButton::clicked, this, [this] {
            editPart(tr("Remove other cells"), [](kit::Instance &i) { i.otherCells.clear(); });
        });
        m_rows[0]->addWidget(one);
    }
    m_alternatives = ids.size() > 1 || part->kind == Kind::Cell;
}

void PartBar::showButtons()
{
    m_rows[0]->addStretch(1);
    if (m_alternatives) {
        auto *compare = new QPushButton(tr("Compare"));
        compare->setObjectName("partCompare");
        connect(compare, &QPushButton::clicked, this, [this] { emit compareWanted(m_instance); });
        m_rows[0]->addWidget(compare);
    }
    auto *remove = new QPushButton(tr("Remove"));
    remove->setObjectName("partRemove");
    remove->setToolTip(tr("Delete, with the focus in the picture"));
    connect(remove, &QPushButton::clicked, this, [this] { emit removeWanted(m_instance); });
    m_rows[0]->addWidget(remove);
}

void PartBar::showPlace(const kit::Car &car, const parts::Catalogue &catalogue,
                        const kit::Instance &fitted)
{
    const auto *part = catalogue.find(fitted.partId);
    const auto mount = [](kit::Instance &i) -> kit::Mount & {
        if (!i.mount)
            i.mount.emplace();
        return *i.mount;
    };
    const bool carried = !fitted.carriedBy.empty();
    const bool onAxle = (part->kind == Kind::Motor || part->kind == Kind::DriveServo ||
                         part->kind == Kind::Wheel || part->kind == Kind::Deck) &&
                        !fitted.mount;
    if (!carried && !onAxle) {
        const auto &m = fitted.mount;
        const auto of = [&](double kit::Mount::*key) {
            return m ? std::optional((*m).*key) : std::nullopt;
        };
        const auto place = [&](const QString &label, const char *name, double kit::Mount::*key,
                               Dimension d, Unit u) {
            addQuantity(label, name, d, u, of(key), 1,
                        [mount, key](kit::Instance &i, double v) { mount(i).*key = v; });
        };
        place(tr("behind nose"), "setBack", &kit::Mount::setBack_m, Dimension::Length,
              Unit::Millimetre);
        place(tr("left"), "offset", &kit::Mount::offset_m, Dimension::Length, Unit::Millimetre);
        const bool senses = part->kind == Kind::Ranger || part->kind == Kind::Infrared ||
                            part->kind == Kind::Reflectance || part->kind == Kind::Strip ||
                            part->kind == Kind::Servo;
        if (senses)
            place(tr("height"), "height", &kit::Mount::height_m, Dimension::Length,
                  Unit::Millimetre);
        if (senses && part->kind != Kind::Strip)
            place(tr("turned"), "yaw", &kit::Mount::yaw_rad, Dimension::Angle, Unit::Degree);
        if (part->kind == Kind::Ranger || part->kind == Kind::Servo)
            place(tr("tilt up"), "tilt", &kit::Mount::tilt_rad, Dimension::Angle, Unit::Degree);
    }
    if (part->kind == Kind::Ranger)
        showCarrier(car, catalogue, fitted);
    if (part->kind == Kind::Servo) {
        addQuantity(tr("sweeps ±"), "sweep", Dimension::Angle, Unit::Degree, fitted.sweep_rad, 0,
                    [](kit::Instance &i, double v) { i.sweep_rad = v; });
        addQuantity(tr("horn lacks"), "hornError", Dimension::Angle, Unit::Degree,
                    fitted.hornError_rad, 0,
                    [](kit::Instance &i, double v) { i.hornError_rad = v; });
    }
    if (part->kind == Kind::Led)
        addQuantity(tr("resistor"), "resistor", Dimension::Resistance, Unit::Ohm,
                    fitted.resistor_ohm, 1, [](kit::Instance &i, double v) { i.resistor_ohm = v; });
}

void PartBar::showCarrier(const kit::Car &car, const parts::Catalogue &catalogue,
                          const kit::Instance &fitted)
{
    QStringList words = {tr("the deck")};
    std::vector<std::string> ids = {""};
    int current = 0;
    for (const auto &i : car.parts)
        if (const auto *p = catalogue.find(i.partId); p && p->kind == Kind::Servo) {
            words << str(i.id);
            ids.push_back(i.id);
            if (i.id == fitted.carriedBy)
                current = int(ids.size()) - 1;
        }
    if (ids.size() > 1)
        addChoice(tr("rides on"), "carriedBy", words, current, 1, [this, ids](int i) {
            editPart(tr("Say what carries it"), [&](kit::Instance &x) {
                x.carriedBy = ids[size_t(i)];
                if (i > 0)
                    x.mount.reset(); // it sits where the servo sits
            });
        });
}

void PartBar::showFeeds(const kit::Car &car, const parts::Catalogue &catalogue,
                        const kit::Instance &fitted)
{
    const auto *part = catalogue.find(fitted.partId);
    const auto choose = [&](const std::string &terminal, const QStringList &offers) {
        QStringList words = QStringList{tr("nothing said")} + offers;
        int current = 0;
        for (const auto &f : fitted.feeds)
            if (f.to == terminal) {
                if (!words.contains(str(f.from)))
                    words << str(f.from);
                current = int(words.indexOf(str(f.from)));
            }
        addChoice(tr("%1 from").arg(str(terminal)), "feed:" + str(terminal), words, current, 1,
                  [this, terminal, words](int i) {
                      editPart(tr("Say what feeds it"), [&](kit::Instance &x) {
                          std::erase_if(x.feeds,
                                        [&](const kit::Feed &f) { return f.to == terminal; });
                          if (i > 0)
                              x.feeds.push_back({terminal, words[i].toStdString(), {}});
                      });
                  });
    };
    QStringList supplies;
    for (const auto &s : power::supplies({car, catalogue}))
        if (kit::splitTerminal(s).instance != fitted.id)
            supplies << str(s);
    bool link = false;
    for (const auto &t : part->terminals) {
        const bool first = part->kind == Kind::Link && !link;
        if (t.role == parts::Role::SupplyIn || first ||
            (t.role == parts::Role::SupplyOut && t.window) ||
            (part->kind == Kind::Rail && t.name.starts_with("PLUS")))
            choose(t.name, supplies);
        link |= part->kind == Kind::Link;
        if (part->kind == Kind::Divider && t.role == parts::Role::Signal) {
            QStringList outputs;
            for (const auto &i : car.parts)
                if (const auto *p = catalogue.find(i.partId))
                    for (const auto &o : p->terminals)
                        if (o.role == parts::Role::Echo || o.role == parts::Role::DigitalOut ||
                            o.role == parts::Role::AnalogueOut)
                            outputs << str(i.id + "." + o.name);
            choose(t.name, outputs);
        }
    }
    if (part->kind == Kind::Motor || part->kind == Kind::DriveServo)
        showDrive(car, catalogue, fitted, part->kind == Kind::Motor);
}

/// On which side a motor sits, and the channel that drives it.
void PartBar::showDrive(const kit::Car &car, const parts::Catalogue &catalogue,
                        const kit::Instance &fitted, bool byChannel)
{
    addChoice(tr("side"), "side", {tr("none"), tr("left"), tr("right")}, int(fitted.side), 1,
              [this](int i) {
                  editPart(tr("Say on which side it sits"),
                           [i](kit::Instance &x) { x.side = kit::Side(i); });
              });
    if (!byChannel)
        return;
    QStringList words = {tr("nothing said")};
    int current = 0;
    for (const auto &c : power::channels({car, catalogue})) {
        words << str(c);
        if (c == fitted.drivenBy)
            current = int(words.size()) - 1;
    }
    addChoice(tr("driven by"), "drivenBy", words, current, 1, [this, words](int i) {
        editPart(tr("Say what drives it"), [&](kit::Instance &x) {
            x.drivenBy = i > 0 ? words[i].toStdString() : std::string{};
        });
    });
}

} // namespace badger::app
