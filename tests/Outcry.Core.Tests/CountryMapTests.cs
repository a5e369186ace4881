using System.Xml.Linq;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>The small map shows a country, and only where the country may be told.</summary>
public sealed class CountryMapTests
{
    [Fact]
    public void Every_outline_is_a_drawing_of_its_own()
    {
        Assert.True(CountryMap.Countries.Count > 200);
        var drawings = CountryMap.Countries.Select(CountryMap.Of).ToList();
        Assert.Equal(drawings.Count, drawings.Distinct().Count());
        foreach (var drawing in drawings)
        {
            var svg = XDocument.Parse(Uri.UnescapeDataString(drawing!["data:image/svg+xml,".Length..]));
            Assert.StartsWith("M", svg.Descendants().Last().Attribute("d")!.Value, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Usual_other_names_are_understood_and_unknown_ones_are_not_guessed()
    {
        Assert.Equal(CountryMap.Of("United Kingdom"), CountryMap.Of("scotland"));
        Assert.NotNull(CountryMap.Of(" USA "));
        Assert.Null(CountryMap.Of("Atlantis"));
        Assert.Null(CountryMap.Of(""));
    }

    [Fact]
    public void A_map_is_shown_only_of_a_country_that_enough_people_share()
    {
        static string? PictureOf(int people)
        {
            var brief = Brief();
            var events = Enumerable
                .Range(0, people)
                .Select(i =>
                    Event(
                        ago: Duration.FromMinutes(i + 1),
                        person: $"p{i}",
                        place: new Place("Cork", "Munster", "Ireland")
                    )
                )
                .ToList();
            var callout = Live(
                "mapped",
                brief with
                {
                    Say = brief.Say with { Picture = SayPicture.Map },
                    From = brief.From with { LeastNumber = 1 },
                }
            );
            var site = Site([callout], events);
            return Assert.Single(Explain(site).Armed).Turns[0].Picture;
        }

        Assert.Null(PictureOf(PlaceCrowd.FewestPeople - 1));
        Assert.Equal(CountryMap.Of("Ireland"), PictureOf(PlaceCrowd.FewestPeople));
    }
}
