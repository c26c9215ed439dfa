#include "core/diagnosis/next_act.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/diagnosis/outcome_bins.h"

namespace eh {
namespace {

constexpr double negligible_probability = 1e-4;
constexpr double misread_share = 0.06;   // outcomes are misread or fall into the next bin
constexpr double worth_removing = 0.05;  // suspicion from which taking a part off is considered
constexpr double least_telling = 0.02;   // outcomes less likely than this are not listed
constexpr std::size_t most_tellings = 4;
constexpr double least_bits = 1e-3;
constexpr double worth_learning_bits =
    0.05;  // below it no reading is left that would change the choice of part

// The parts under suspicion, with what it costs to put each right.
struct Parties {
    std::vector<double> probability;         // by party
    std::vector<double> repair_minutes;      // by party; infinite where nothing can be repaired
    std::vector<std::size_t> of_hypothesis;  // party by hypothesis
    std::vector<double> p_hypothesis;        // posterior by hypothesis
};

Parties make_parties(const Ranking& ranking, const PredictionTable& table, const BenchConfiguration& now,
                     const BenchCosts& costs) {
    const auto& hypotheses = table.hypotheses();
    Parties parties;
    parties.of_hypothesis.assign(hypotheses.size(), 0);
    parties.p_hypothesis.assign(hypotheses.size(), 0.0);
    for (std::size_t g = 0; g < ranking.parts.size(); ++g) {
        const PartSuspicion& part = ranking.parts[g];
        parties.probability.push_back(part.probability);
        const auto& leading = hypotheses[ranking.suspicions[part.leading_hypothesis].hypothesis];
        constexpr double explain_minutes = 3.0;
        double minutes = explain_minutes;
        if (part.kind == HypothesisKind::none_of_these)
            minutes = std::numeric_limits<double>::infinity();
        else if (part.kind == HypothesisKind::fault)
            minutes = repair_minutes(leading.faults.front(), now, table.plan(), costs);
        // What was put right already is not put right again.
        if (std::binary_search(now.replaced.begin(), now.replaced.end(), part.block))
            minutes = std::numeric_limits<double>::infinity();
        parties.repair_minutes.push_back(minutes);
    }
    for (const Suspicion& suspicion : ranking.suspicions) {
        const Hypothesis& hypothesis = hypotheses[suspicion.hypothesis];
        const std::string block = hypothesis.faults.empty() ? "" : hypothesis.faults.front().block;
        const auto party = std::find_if(
            ranking.parts.begin(), ranking.parts.end(),
            [&](const PartSuspicion& part) { return part.block == block && part.kind == hypothesis.kind; });
        parties.of_hypothesis[suspicion.hypothesis] = static_cast<std::size_t>(party - ranking.parts.begin());
        parties.p_hypothesis[suspicion.hypothesis] = suspicion.probability;
    }
    return parties;
}

// Expected minutes of repairing the best party at once, a wrong guess included.
double repair_now(const std::vector<double>& probability, const Parties& parties, const BenchCosts& costs) {
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t g = 0; g < probability.size(); ++g)
        best =
            std::min(best, parties.repair_minutes[g] + (1.0 - probability[g]) * costs.failed_repair_minutes);
    return best;
}

// Joint distribution of parties (rows) and outcomes (columns), built hypothesis by hypothesis.
class Contingency {
  public:
    explicit Contingency(const Parties& parties) : parties_(parties) {}

    // A hypothesis shows `outcome` with this probability.
    void add(std::size_t hypothesis, int outcome, double probability) {
        const auto [place, fresh] = columns_.emplace(outcome, outcomes_.size());
        if (fresh) {
            outcomes_.push_back(outcome);
            joint_.emplace_back(parties_.probability.size(), 0.0);
        }
        joint_[place->second][parties_.of_hypothesis[hypothesis]] +=
            parties_.p_hypothesis[hypothesis] * probability;
    }

    // "None of these" may show anything; so may a misreading.
    void finish() {
        const double columns = static_cast<double>(outcomes_.size());
        for (std::size_t g = 0; g < parties_.probability.size(); ++g) {
            double seen = 0.0;
            for (const auto& column : joint_)
                seen += column[g];
            const double missing = parties_.probability[g] - seen;
            for (auto& column : joint_)
                column[g] = column[g] * (1.0 - misread_share) + (misread_share * seen + missing) / columns;
        }
    }

    [[nodiscard]] double bits() const {
        double information = 0.0;
        for (const auto& column : joint_) {
            const double q = std::accumulate(column.begin(), column.end(), 0.0);
            for (std::size_t g = 0; g < column.size(); ++g) {
                if (column[g] > 0.0)
                    information += column[g] * std::log2(column[g] / (q * parties_.probability[g]));
            }
        }
        return std::max(0.0, information);
    }

    [[nodiscard]] double cost_after(const BenchCosts& costs) const {
        double total = 0.0;
        for (const auto& column : joint_) {
            const double q = std::accumulate(column.begin(), column.end(), 0.0);
            std::vector<double> posterior = column;
            for (double& p : posterior)
                p /= q;
            total += q * repair_now(posterior, parties_, costs);
        }
        return total;
    }

    [[nodiscard]] std::vector<Telling> tellings(ReadingKind kind, const Ranking& ranking,
                                                const MachinePlan& plan) const {
        std::vector<Telling> list;
        for (std::size_t c = 0; c < joint_.size(); ++c) {
            const double q = std::accumulate(joint_[c].begin(), joint_[c].end(), 0.0);
            const auto top = std::max_element(joint_[c].begin(), joint_[c].end());
            const PartSuspicion& part = ranking.parts[static_cast<std::size_t>(top - joint_[c].begin())];
            if (q >= least_telling)
                list.push_back({outcome_text(kind, outcomes_[c], plan), q, part.block, part.kind, *top / q});
        }
        std::sort(list.begin(), list.end(),
                  [](const Telling& a, const Telling& b) { return a.probability > b.probability; });
        if (list.size() > most_tellings)
            list.resize(most_tellings);
        return list;
    }

  private:
    const Parties& parties_;
    std::map<int, std::size_t> columns_;
    std::vector<int> outcomes_;
    std::vector<std::vector<double>> joint_;  // [outcome][party]
};

class Proposer {
  public:
    Proposer(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
             const BenchConfiguration& now, const BenchCosts& costs, const NextOptions& options)
        : table_(table),
          plan_(table.plan()),
          ranking_(ranking),
          taken_(taken),
          now_(now),
          costs_(costs),
          options_(options),
          parties_(make_parties(ranking, table, now, costs)) {
        for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
            if (parties_.p_hypothesis[h] > negligible_probability &&
                table.hypotheses()[h].kind != HypothesisKind::none_of_these)
                weighty_.push_back(h);
        }
    }

    NextStep run() {
        step_.repair_now_minutes = repair_now(parties_.probability, parties_, costs_);
        for (const BenchConfiguration& configuration : reachable_configurations(now_, plan_.topology()))
            propose_powered(configuration);
        if (wanted(ReadingKind::net_ohms) && options_.case_may_be_opened)
            propose_ohms();
        std::stable_sort(step_.acts.begin(), step_.acts.end(), [](const NextAct& a, const NextAct& b) {
            return a.bits_per_minute > b.bits_per_minute;
        });
        keep_one_of_a_kind();
        add_repair();
        if (step_.acts.size() > options_.most)
            step_.acts.resize(options_.most);
        return std::move(step_);
    }

  private:
    bool wanted(ReadingKind kind) const {
        return std::find(options_.instruments.begin(), options_.instruments.end(), kind) !=
               options_.instruments.end();
    }

    bool already_taken(ReadingKind kind, const std::string& place,
                       const BenchConfiguration& configuration) const {
        return std::any_of(taken_.begin(), taken_.end(), [&](const Reading& reading) {
            if (reading.set_aside || reading.kind != kind ||
                (kind != ReadingKind::hot_part && reading.place != place))
                return false;
            if (kind == ReadingKind::net_ohms)
                return electrical_part(unpowered(reading.configuration)) ==
                       electrical_part(unpowered(configuration));
            return electrical_part(reading.configuration) == electrical_part(configuration);
        });
    }

    // Adds the act when it tells anything.
    void consider(NextAct act, const Contingency& table, double extra_risk = 0.0) {
        const auto kind = static_cast<std::size_t>(act.reading);
        act.bits = table.bits();
        if (act.bits < least_bits)
            return;
        act.setup_minutes = setup_minutes(now_, act.configuration, plan_, costs_);
        act.minutes = act.setup_minutes + costs_.reading_minutes[kind];
        act.risk_minutes = costs_.risk_minutes[kind] + extra_risk;
        act.bits_per_minute = act.bits / (act.minutes + act.risk_minutes);
        act.saving_minutes =
            step_.repair_now_minutes - table.cost_after(costs_) - act.minutes - act.risk_minutes;
        act.tells = table.tellings(act.reading, ranking_, plan_);
        step_.acts.push_back(std::move(act));
    }

    template <typename OutcomesOf>
    Contingency tabulate(OutcomesOf outcomes_of) const {
        Contingency table(parties_);
        for (const std::size_t h : weighty_)
            outcomes_of(h, table);
        table.finish();
        return table;
    }

    void propose_view(ReadingKind kind, const std::string& place, int net,
                      const BenchConfiguration& configuration, const PoweredColumn& column) {
        if (!wanted(kind) || already_taken(kind, place, configuration))
            return;
        NextAct act;
        act.reading = kind;
        act.place = place;
        act.configuration = configuration;
        const bool inside = kind == ReadingKind::net_volts || kind == ReadingKind::hot_part;
        if (inside) {
            if (!options_.case_may_be_opened)
                return;
            act.configuration.case_open = true;
        }
        consider(std::move(act), tabulate([&](std::size_t h, Contingency& table) {
                     const auto& views = column[h];
                     for (std::size_t s = 0; s < views.size(); ++s) {
                         const PoweredView& view = views[s];
                         const double share = ranking_.sample_weights[h][s];
                         if (kind == ReadingKind::wiggle) {
                             table.add(h, 1, share * view.drop_probability);
                             table.add(h, 0, share * (1.0 - view.drop_probability));
                         } else {
                             table.add(h, outcome_of(kind, view, net), share);
                         }
                     }
                 }));
    }

    void propose_powered(const BenchConfiguration& configuration) {
        const auto column = table_.known_powered(configuration);
        if (column == nullptr || !configuration.charger_connected)
            return;
        propose_view(ReadingKind::meter, "", -1, configuration, *column);
        propose_view(ReadingKind::firmware, "", -1, configuration, *column);
        propose_view(ReadingKind::wiggle, "", -1, configuration, *column);
        propose_view(ReadingKind::hot_part, "", -1, configuration, *column);
        const auto& nets = plan_.topology().nets;
        for (std::size_t n = 0; n < nets.size(); ++n)
            propose_view(ReadingKind::net_volts, nets[n].id, static_cast<int>(n), configuration, *column);
    }

    void propose_ohms() {
        BenchConfiguration configuration = unpowered(now_);
        configuration.case_open = true;
        const auto& nets = plan_.topology().nets;
        for (std::size_t n = 0; n < nets.size(); ++n) {
            const auto column = table_.known_ohms(configuration, static_cast<int>(n));
            if (column == nullptr)
                continue;
            if (!already_taken(ReadingKind::net_ohms, nets[n].id, configuration)) {
                consider(
                    ohms_act(nets[n].id, configuration),
                    tabulate([&](std::size_t h, Contingency& table) { add_ohms(table, h, (*column)[h]); }));
            }
            propose_removal(n, configuration, *column);
        }
    }

    static NextAct ohms_act(const std::string& net, const BenchConfiguration& configuration) {
        NextAct act;
        act.reading = ReadingKind::net_ohms;
        act.place = net;
        act.configuration = configuration;
        return act;
    }

    void add_ohms(Contingency& table, std::size_t hypothesis, const std::vector<double>& samples) const {
        const auto& weights = ranking_.sample_weights[hypothesis];
        for (std::size_t s = 0; s < samples.size(); ++s)
            table.add(hypothesis, outcome_of_ohms(samples[s]), weights[s]);
    }

    // Take a suspect off this net and measure again.
    void propose_removal(std::size_t net, const BenchConfiguration& standing, const OhmsColumn& column) {
        const int node = plan_.net_nodes[net];
        const std::size_t sound = sound_hypothesis();
        for (const PartSuspicion& part : ranking_.parts) {
            const int index = part.block.empty() ? -1 : plan_.find_block(part.block);
            if (part.probability < worth_removing || index < 0)
                continue;
            const PlanBlock& block = plan_.blocks[static_cast<std::size_t>(index)];
            const bool on_net = std::any_of(block.pin_nodes.begin(), block.pin_nodes.end(),
                                            [&](const auto& pin) { return pin.second == node; });
            if (!on_net || !block.kind->remove_minutes)
                continue;
            BenchConfiguration configuration = standing;
            configuration.board_out = standing.board_out || block.kind->needs_board_out;
            insert_block(configuration.removed, part.block);
            if (configuration.removed == standing.removed ||
                already_taken(ReadingKind::net_ohms, plan_.topology().nets[net].id, configuration))
                continue;
            // Off the board, the suspect's own fault is gone and the others show what they showed before.
            consider(ohms_act(plan_.topology().nets[net].id, configuration),
                     tabulate([&](std::size_t h, Contingency& table) {
                         const bool its_own = table_.hypotheses()[h].kind == HypothesisKind::fault &&
                                              table_.hypotheses()[h].faults.front().block == part.block;
                         add_ohms(table, h, column[its_own ? sound : h]);
                     }),
                     costs_.remove_risk_minutes);
        }
    }

    std::size_t sound_hypothesis() const {
        const auto& hypotheses = table_.hypotheses();
        return static_cast<std::size_t>(
            std::find_if(hypotheses.begin(), hypotheses.end(),
                         [](const Hypothesis& h) { return h.kind == HypothesisKind::nothing_wrong; }) -
            hypotheses.begin());
    }

    // The same reading at another port or plug side that tells no more is not worth a line of its own.
    void keep_one_of_a_kind() {
        std::vector<NextAct> kept;
        for (NextAct& act : step_.acts) {
            const bool listed = std::any_of(kept.begin(), kept.end(), [&](const NextAct& better) {
                return better.reading == act.reading && better.place == act.place &&
                       better.configuration.removed == act.configuration.removed && better.bits >= act.bits;
            });
            if (!listed)
                kept.push_back(std::move(act));
        }
        step_.acts = std::move(kept);
    }

    void add_repair() {
        if (ranking_.parts.empty())
            return;
        const PartSuspicion& top = ranking_.parts.front();
        if (top.kind != HypothesisKind::fault || !std::isfinite(parties_.repair_minutes.front()))
            return;
        const bool nearly_certain = top.probability >= costs_.repair_due_probability;
        const bool nothing_left = std::all_of(step_.acts.begin(), step_.acts.end(), [](const NextAct& act) {
            return act.bits < worth_learning_bits && act.saving_minutes <= 0.0;
        });
        if (!nearly_certain && (!nothing_left || taken_.empty()))
            return;
        NextAct act;
        act.repair = true;
        act.fault =
            table_.hypotheses()[ranking_.suspicions[top.leading_hypothesis].hypothesis].faults.front();
        act.configuration = now_;
        const FaultSpec* spec = plan_.knowledge().catalogue.find(act.fault.fault);
        act.remedy = spec == nullptr || spec->remedies.empty() ? "repair" : spec->remedies.front().act;
        act.minutes = parties_.repair_minutes.front();
        step_.repair_due = true;
        step_.acts.insert(step_.acts.begin(), std::move(act));
    }

    const PredictionTable& table_;
    const MachinePlan& plan_;
    const Ranking& ranking_;
    const std::vector<Reading>& taken_;
    const BenchConfiguration& now_;
    const BenchCosts& costs_;
    const NextOptions& options_;
    Parties parties_;
    std::vector<std::size_t> weighty_;
    NextStep step_;
};

}  // namespace

std::vector<BenchConfiguration> reachable_configurations(const BenchConfiguration& now,
                                                         const Topology& topology) {
    std::vector<BenchConfiguration> list;
    BenchConfiguration base = now;
    base.charger_connected = true;
    if (topology.find_port(base.port) == nullptr)
        base.port = topology.ports.front().id;
    const auto with_sides = [&](BenchConfiguration configuration) {
        for (const Port& port : topology.ports) {
            configuration.port = port.id;
            configuration.side = PlugSide::a;
            list.push_back(configuration);
            if (port.family == "usb-c") {
                configuration.side = PlugSide::b;
                list.push_back(configuration);
            }
        }
    };
    list.push_back(base);
    with_sides(base);
    BenchConfiguration other = base;
    other.charger = now.charger == Owner::bench ? Owner::customer : Owner::bench;
    list.push_back(other);
    other = base;
    other.lead = now.lead == Owner::bench ? Owner::customer : Owner::bench;
    list.push_back(other);
    std::vector<BenchConfiguration> unique;
    for (const BenchConfiguration& configuration : list) {
        if (std::find(unique.begin(), unique.end(), configuration) == unique.end())
            unique.push_back(configuration);
    }
    return unique;
}

NextStep next_acts(const PredictionTable& table, const Ranking& ranking, const std::vector<Reading>& taken,
                   const BenchConfiguration& now, const BenchCosts& costs, const NextOptions& options) {
    return Proposer(table, ranking, taken, now, costs, options).run();
}

bool prepare_candidates(PredictionTable& table, const BenchConfiguration& now,
                        const std::function<bool()>& stop, const std::function<void(double)>& progress) {
    const Topology& topology = table.plan().topology();
    const auto configurations = reachable_configurations(now, topology);
    const double steps = static_cast<double>(configurations.size() + topology.nets.size());
    double done = 0.0;
    const auto advance = [&] {
        done += 1.0;
        if (progress)
            progress(done / steps);
    };
    for (std::size_t n = 0; n < topology.nets.size(); ++n) {
        if (table.ohms(now, static_cast<int>(n), stop) == nullptr)
            return false;
        advance();
    }
    for (const BenchConfiguration& configuration : configurations) {
        if (table.powered(configuration, stop) == nullptr)
            return false;
        advance();
    }
    return true;
}

std::string describe(const NextAct& act, const MachinePlan& plan) {
    const Topology& topology = plan.topology();
    if (act.repair)
        return fault_title(plan.knowledge(), topology, act.fault) + ": " + act.remedy;
    const Net* net = topology.find_net(act.place);
    const std::string place = net == nullptr ? act.place : net->title;
    const std::string stance = describe(act.configuration, topology);
    switch (act.reading) {
        case ReadingKind::meter:
            return "Meter: " + stance;
        case ReadingKind::net_volts:
            return "Volts of " + place + " (" + stance + ")";
        case ReadingKind::net_ohms: {
            std::string text = "Ohms of " + place + " to ground";
            for (const std::string& id : act.configuration.removed) {
                if (const Block* block = topology.find_block(id))
                    text += ", without " + block->title;
            }
            return text;
        }
        case ReadingKind::hot_part:
            return "Hottest part (" + stance + ")";
        case ReadingKind::firmware:
            return "What the machine says (" + stance + ")";
        case ReadingKind::wiggle:
            return "Wiggle the plug: " + stance;
    }
    return {};
}

}  // namespace eh
