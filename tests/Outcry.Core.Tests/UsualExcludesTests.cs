using Outcry.Core.Pages;

namespace Outcry.Core.Tests;

/// <summary>Pages that are usually left out are offered by their names.</summary>
public sealed class UsualExcludesTests
{
    [Fact]
    public void Offers_thank_you_account_and_legal_pages_and_nothing_else()
    {
        var found = UsualExcludes.Among([
            "/",
            "/shop",
            "/shop/thanksgiving-plate",
            "/workshops/raku/thank-you",
            "/account/orders",
            "/account",
            "/privacy",
        ]);

        Assert.Equal(
            [
                (UsualExcludeSort.ThankYou, "/workshops/raku/thank-you"),
                (UsualExcludeSort.Account, "/account/**"),
                (UsualExcludeSort.Legal, "/privacy"),
            ],
            found.Select(f => (f.Sort, f.Pattern))
        );
        Assert.Equal(["/account/orders", "/account"], found[1].Pages);
    }

    [Fact]
    public void What_it_offers_means_exactly_the_pages_it_names()
    {
        string[] paths =
        [
            "/checkout",
            "/checkout/pay",
            "/de/danke",
            "/journal/paying-attention",
            "/terms-of-sale",
            "/basket-weaving",
        ];

        var found = UsualExcludes.Among(paths);

        foreach (var offer in found)
        {
            var pattern = PagePattern.Parse(offer.Pattern);
            Assert.Equal(offer.Pages, paths.Where(p => pattern.Matches(PageAddress.TryAt("pots.example", p)!)));
        }
        Assert.DoesNotContain(
            found,
            f => f.Pages.Contains("/journal/paying-attention") || f.Pages.Contains("/basket-weaving")
        );
    }

    [Fact]
    public void Names_a_page_once_even_where_two_names_fit()
    {
        var found = UsualExcludes.Among(["/account/thank-you"]);

        Assert.Equal(UsualExcludeSort.ThankYou, Assert.Single(found).Sort);
    }
}
