using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Ready briefs are ready: nothing stands against publishing one but words only its author knows.</summary>
public sealed class ReadyBriefTests
{
    public static TheoryData<string> Keys => [.. ReadyBrief.All.Select(r => r.Key)];

    [Theory]
    [MemberData(nameof(Keys))]
    public void Nothing_but_the_wording_stands_against_it(string key)
    {
        var ready = ReadyBrief.All.Single(r => r.Key == key);
        foreach (var of in ready.Of.DefaultIfEmpty(EventKind.Purchase))
        {
            var sources = ready.Of.Count == 0 ? (Guid[])[] : [Source];
            string[] shown = [EventFields.Left, EventFields.Total, "of", "stars", "words", "who", "role"];
            var offer = new SourceOffer(
                Source,
                "Source",
                DisplayPolicy.Start with
                {
                    ShownFields = shown,
                },
                HasNames: true,
                shown
            )
            {
                Kind = of,
            };

            var problems = BriefCheck
                .Problems(ready.On(of, sources), [offer], SiteContext.Nothing)
                .Where(p => p.Blocks)
                .ToList();

            string[] ofItsAuthor = ready.Kind switch
            {
                CalloutKind.Notice => ["say.message"],
                CalloutKind.Prompt => ["say.message", "ask.promise"],
                _ => [],
            };
            Assert.All(problems, p => Assert.Contains(p.Field, ofItsAuthor));
        }
    }

    [Fact]
    public void There_is_one_for_every_kind_and_its_key_is_its_own()
    {
        Assert.Equal(Enum.GetValues<CalloutKind>().Order(), ReadyBrief.All.Select(r => r.Kind).Distinct().Order());
        Assert.Equal(ReadyBrief.All.Count, ReadyBrief.All.Select(r => r.Key).Distinct().Count());
        Assert.True(ReadyBrief.All.Select(r => r.On(r.Usual, []).Look.Shape).Distinct().Count() >= 6);
    }
}
