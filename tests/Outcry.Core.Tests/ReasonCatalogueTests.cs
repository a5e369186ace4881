using System.Reflection;
using System.Text.Json.Serialization;
using Outcry.Core.Explaining;
using Outcry.Core.Timing;

namespace Outcry.Core.Tests;

/// <summary>Every sort of reason is in the catalogue once, under the name that machines know it by.</summary>
public sealed class ReasonCatalogueTests
{
    private static IEnumerable<Type> Sorts =>
        typeof(Reason).Assembly.GetTypes().Where(t => !t.IsAbstract && t.IsAssignableTo(typeof(Reason)));

    [Fact]
    public void Each_sort_has_one_entry_and_no_entry_is_of_nothing() =>
        Assert.Equal(
            Sorts.Select(t => t.Name).Order(StringComparer.Ordinal),
            ReasonCatalogue.Entries.Select(e => e.Reason.Name).Order(StringComparer.Ordinal)
        );

    [Fact]
    public void Machines_know_each_by_the_code_of_its_entry()
    {
        var written = typeof(Reason)
            .GetCustomAttributes<JsonDerivedTypeAttribute>()
            .ToDictionary(a => a.DerivedType, a => $"{a.TypeDiscriminator}");
        Assert.Equal(ReasonCatalogue.Entries.Count, written.Count);
        Assert.All(ReasonCatalogue.Entries, e => Assert.Equal(e.Code, written[e.Reason]));
        Assert.Equal(written.Count, written.Values.Distinct().Count());
    }

    [Fact]
    public void What_silences_the_whole_site_is_named_first_and_the_page_last()
    {
        Assert.Equal(0, ReasonCatalogue.RankOf(new SiteOffAir()));
        var page = ReasonCatalogue.RankOf(new PageExcluded("/cart"));
        Reason[] others = [new SiteOffAir(), new HeldBack(20), new NoRoom(), new BudgetSpent(6, 6), new NoConsent()];
        Assert.All(others, r => Assert.True(ReasonCatalogue.RankOf(r) < page, $"{r}"));
    }

    [Fact]
    public void A_gist_goes_on_a_sentence_and_a_sentence_stands_alone()
    {
        Reason[] some =
        [
            new SiteOffAir(),
            new QuietPage("/cart"),
            new TooFewNear(3, 1, ""),
            new OnlyOwnEvents(3, 4, 4),
            new HeldByPage(6_000, HoldKind.Chat),
            new NoFreeSlot(30_000, 50_000, 64_000, null),
            new LeftBefore(8_000, 5_000),
        ];
        foreach (var reason in some)
        {
            Assert.Matches("^[a-z].*[^.]$", ReasonCatalogue.GistOf(reason));
            Assert.Matches(@"^[A-Z].*\.$", ReasonSentence.Say(reason, NodaTime.DateTimeZone.Utc, _ => null));
        }
    }
}
