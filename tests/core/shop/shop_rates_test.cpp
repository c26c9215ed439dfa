// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/shop_rates.h"
#include "core/machine/simulation/known_ohms.h"

#include <numeric>

#include "core/prediction/hypothesis.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Job proven_job(const std::string& block, Work work) {
    Job job;
    job.ticket.topology = chained;
    job.acts.push_back({"a1", work, block, "", 20.0, 0.0, "", 0, "", ""});
    ProofStep step;
    step.state = ProofState::passed;
    job.proof.push_back(step);
    return job;
}

const RepairCount& count_of(const ShopRates& rates, const std::string& kind, Work work) {
    for (const RepairCount& count : rates.repairs) {
        if (count.part_kind == kind && count.work == work)
            return count;
    }
    FAIL("no such repair");
    return rates.repairs.front();
}

}  // namespace

TEST_CASE("only proven repairs of known machines count", "[rates]") {
    Job open = proven_job("sp1", Work::replace);
    open.proof.front().state = ProofState::open;
    Job strange = proven_job("sp1", Work::replace);
    strange.ticket.topology = "nobody-knows";
    Job untouched = proven_job("sp1", Work::replace);
    untouched.acts.clear();
    const ShopRates rates = count_repairs(
        shipped_knowledge(), repairs_of({proven_job("sp1", Work::replace), open, strange, untouched}));
    CHECK(rates.jobs == 1);
    CHECK(count_of(rates, "surge_protector", Work::replace).done == 1);
}

TEST_CASE("what the shipped rates expect adds up to the jobs", "[rates]") {
    const std::vector<Job> jobs(17, proven_job("sp1", Work::replace));
    const ShopRates rates = count_repairs(shipped_knowledge(), repairs_of(jobs));
    const double expected =
        std::accumulate(rates.repairs.begin(), rates.repairs.end(), 0.0,
                        [](double sum, const RepairCount& count) { return sum + count.expected; });
    CHECK(expected == Approx(17.0));
}

TEST_CASE("few own repairs move the rates a little, many take them over", "[rates]") {
    // The mean of a Dirichlet distribution: (prior + count) / (prior + all), share by share.
    const auto factor_after = [](std::size_t jobs) {
        const std::vector<Job> same(jobs, proven_job("sp1", Work::replace));
        return count_of(count_repairs(shipped_knowledge(), repairs_of(same)), "surge_protector",
                        Work::replace);
    };
    const RepairCount one = factor_after(1);
    CHECK(one.factor > 1.0);
    CHECK(one.factor < 1.3);
    const RepairCount many = factor_after(2000);
    const double share = many.expected / 2000.0;
    CHECK(many.factor == Approx((100.0 * share + 2000.0) / (100.0 * share + 2000.0 * share)));
    CHECK(many.factor * share == Approx(1.0).epsilon(0.06));
    // What was never done becomes rarer, and never impossible.
    const std::vector<Job> same(300, proven_job("sp1", Work::replace));
    const RepairCount other =
        count_of(count_repairs(shipped_knowledge(), repairs_of(same)), "config_memory", Work::replace);
    CHECK(other.factor == Approx(100.0 / 400.0));
}

TEST_CASE("the shop's counts move the priors of the parts they are about", "[rates]") {
    const std::vector<Job> jobs(50, proven_job("sp1", Work::replace));
    const auto factors =
        count_repairs(shipped_knowledge(), repairs_of(jobs)).factors(shipped_knowledge().catalogue);
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    const auto shipped = make_hypotheses(plan, {});
    const auto own = make_hypotheses(plan, {{}, {}, factors});
    double sum = 0.0;
    for (std::size_t h = 0; h < shipped.size(); ++h) {
        sum += own[h].prior;
        if (shipped[h].faults.size() == 1 && shipped[h].faults.front().fault == "protector_shorted")
            CHECK(own[h].prior > 2.0 * shipped[h].prior);
        CHECK(own[h].shipped_rate == shipped[h].shipped_rate);
    }
    CHECK(sum == Approx(1.0));
}
