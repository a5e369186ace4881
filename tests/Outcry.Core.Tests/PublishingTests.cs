using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Following;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Core.Scripts;
using Outcry.Core.Visitors;
using static Outcry.Core.Publishing.DefinitionMove;
using static Outcry.Core.Publishing.DefinitionState;

namespace Outcry.Core.Tests;

/// <summary>The life of whatever is drafted, published, paused and put away, and what it names meanwhile.</summary>
public sealed class PublishingTests
{
    [Theory]
    // From, move, published before, where it leads; null where it is refused.
    [InlineData(Draft, Publish, false, Live)]
    [InlineData(Live, Publish, true, Live)]
    [InlineData(Paused, Publish, true, Live)]
    [InlineData(Archived, Publish, true, null)]
    [InlineData(Archived, Publish, false, null)]
    [InlineData(Live, Pause, true, Paused)]
    [InlineData(Paused, Pause, true, Paused)]
    [InlineData(Draft, Pause, false, Draft)]
    [InlineData(Archived, Pause, true, null)]
    [InlineData(Archived, Pause, false, null)]
    [InlineData(Paused, Resume, true, Live)]
    [InlineData(Live, Resume, true, Live)]
    [InlineData(Draft, Resume, false, null)]
    [InlineData(Archived, Resume, true, null)]
    [InlineData(Draft, Archive, false, Archived)]
    [InlineData(Paused, Archive, true, Archived)]
    [InlineData(Archived, Archive, true, Archived)]
    [InlineData(Live, Archive, true, Archived)]
    [InlineData(Archived, Restore, true, Paused)]
    [InlineData(Archived, Restore, false, Draft)]
    [InlineData(Paused, Restore, true, Paused)]
    [InlineData(Draft, Restore, false, Draft)]
    [InlineData(Live, Restore, true, null)]
    public void A_move_leads_on_or_is_refused_in_a_sentence(
        DefinitionState from,
        DefinitionMove move,
        bool wasPublished,
        DefinitionState? to
    )
    {
        var answer = DefinitionLife.Decide(from, move, wasPublished);
        Assert.Equal(to ?? from, answer.To);
        if (to is null)
            Assert.EndsWith(".", answer.Refusal, StringComparison.Ordinal);
        else
            Assert.Null(answer.Refusal);
    }

    [Fact]
    public void Whatever_goes_on_air_is_checked_anew_and_nothing_else_is()
    {
        var checkedAnew = Enum.GetValues<DefinitionMove>().Where(DefinitionLife.NeedsCheck);
        Assert.Equal([Publish, Resume], checkedAnew);
        // Nothing goes on air by a move that is not checked.
        foreach (var move in Enum.GetValues<DefinitionMove>().Where(m => !DefinitionLife.NeedsCheck(m)))
        foreach (var from in Enum.GetValues<DefinitionState>().Where(s => s != Live))
        foreach (var published in new[] { true, false })
            Assert.NotEqual(Live, DefinitionLife.Decide(from, move, published).To);
    }

    [Fact]
    public void A_brief_names_segments_however_deep_groups_sources_goals_and_its_picture()
    {
        var (segment, group, source, goal) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        var brief = StarterBrief.Moment(Outcry.Core.Evidence.EventKind.Purchase, [source]);
        Assert.Empty(BriefKind.Instance.ReferencesOf(brief).Segments);
        Assert.Empty(BriefKind.Instance.ReferencesOf(brief).Pictures);
        var full = brief with
        {
            Who = brief.Who with { Rule = new AllOf([new NotThis(new InSegment(segment))]) },
            Where = brief.Where with { Groups = [group, group] },
            HowOften = brief.HowOften with { Goals = [goal] },
            Say = brief.Say with { PictureAddress = "/o/pictures/1" },
        };
        var names = BriefKind.Instance.ReferencesOf(full);
        Assert.Equal([segment], names.Segments);
        Assert.Equal([group], names.PageGroups);
        Assert.Equal(new[] { source, goal }.Order(), names.Sources.Order());
        Assert.Equal(["/o/pictures/1"], names.Pictures);
        var joined = References.Join([BriefKind.Instance.ReferencesOf(brief), names]);
        Assert.Equal(names.Sources.Order(), joined.Sources.Order());
        Assert.Equal(names.Pictures, joined.Pictures);
    }

    [Fact]
    public void What_names_something_that_is_not_live_says_so_and_may_go_live_all_the_same()
    {
        var (named, site) = (Guid.NewGuid(), new HashSet<Guid>());
        var setting = new CheckSetting(
            SiteContext.Nothing,
            [],
            new CheckMoment(Instant.FromUtc(2015, 11, 20, 16, 0), DateTimeZone.Utc, HouseRules.Start)
        )
        {
            IsLive = site.Contains,
        };
        var launcher = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF") with { ScriptId = named };
        var script = new Script(
            [
                new(Guid.NewGuid(), 0, StepKind.Offer, [new("", "Have our letters", [], "")])
                {
                    Offers = OfferOf.Prompt,
                    Offered = named,
                },
            ],
            0,
            30,
            []
        );
        var follow = FollowUp.Start with { After = FollowsAfter.Yes, DefinitionId = named };
        List<Problem> Said() =>
            [
                .. LauncherKind.Instance.Check(launcher, setting).Where(p => p.Field == "scriptId"),
                .. ScriptKind.Instance.Check(script, setting).Where(p => p.Field == "steps[0].offered"),
                .. FollowUpKind.Instance.Check(follow, setting).Where(p => p.Field == "after"),
            ];
        Assert.Equal(3, Said().Count);
        Assert.DoesNotContain(Said(), p => p.Blocks);
        site.Add(named);
        Assert.Empty(Said());
    }
}
