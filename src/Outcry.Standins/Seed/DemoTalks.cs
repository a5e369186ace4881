using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

/// <summary>What visitors and the studio talked about lately, and the words it has ready.</summary>
internal sealed class DemoTalks(IServiceProvider services, Definitions definitions, Instant now)
{
    private readonly Guid _orders = Guid.CreateVersion7();
    private const string Marta = "Marta Quill";
    private const string Ines = "Ines Okoro";
    private const string Jonas = "Jonas Hale";

    /// <summary>Something said.</summary>
    /// <param name="Ago">Minutes before now.</param>
    /// <param name="By">A member's name; null for the visitor.</param>
    private sealed record Said(int Ago, string? By, string Text, bool IsNote = false);

    private Dictionary<string, Guid> _members = [];
    private List<string> _visitors = [];
    private Guid _launcher;

    public async Task AddAsync()
    {
        await using var db = services.GetRequiredService<SystemDb>().Open();
        _members = await db.Users.ToDictionaryAsync(u => u.DisplayName, u => u.Id);
        _launcher = await db.Definitions.Where(d => d.Name == "Ask the studio").Select(d => d.Id).SingleAsync();
        // People who have been on the site, so that what is known of them stands beside what they say.
        _visitors = await db
            .Events.Where(e => e.SiteId == definitions.Site.Id && e.VisitorId != null)
            .OrderByDescending(e => e.At)
            .Select(e => e.VisitorId!)
            .Take(400)
            .ToListAsync();
        _visitors = [.. _visitors.Distinct()];
        AddGroups(db);
        AddTalks(db);
        AddReplies(db);
        await db.SaveChangesAsync();
    }

    private void AddGroups(OutcryDb db) =>
        db.AnswerGroups.AddRange(
            new AnswerGroupRow
            {
                Id = definitions.Workshops,
                WorkspaceId = definitions.Site.WorkspaceId,
                Name = "Workshops",
                MemberIds = [_members[Ines], _members[Marta]],
            },
            new AnswerGroupRow
            {
                Id = _orders,
                WorkspaceId = definitions.Site.WorkspaceId,
                Name = "Orders",
                MemberIds = [_members[Jonas], _members[Marta]],
            }
        );

    private void AddTalks(OutcryDb db)
    {
        var leila = Talk(
            db,
            "Leila B.",
            "",
            "/workshops/raku-day",
            [
                new(21, null, "Hello! We would like to come as a group in December."),
                new(20, Marta, "Lovely. How many are you, and does a Saturday suit you?"),
                new(14, null, "We are seven, two of them are twelve. Is that fine?"),
                new(13, Ines, "Twelve is fine, under ten is not.", IsNote: true),
                new(12, Marta, "Twelve is fine, each with an adult beside them at the kiln."),
                new(1, null, "Would the 12th be free all day?"),
            ]
        );
        leila.Tags = ["group"];
        var jug = Talk(db, "", "Ghent", "/shop", [new(6, null, "Can the jug go in a dishwasher?")]);
        jug.GroupId = _orders;
        var callum = Talk(
            db,
            "Callum T.",
            "",
            "/studio",
            [
                new(180, null, "Are you open on Thursday afternoon?"),
                new(176, Marta, "Until five, and the kettle is on."),
                new(170, null, "Thanks, I will come by on Thursday."),
            ]
        );
        callum.Standing = callum.Standing.Snooze(_members[Marta], now + Duration.FromDays(3), now).Standing;
        Talk(
            db,
            "Tomasz K.",
            "",
            "/shop",
            [
                new(300, null, "Can I collect two seconds on Friday?"),
                new(290, Ines, "You can. They wait under the counter with your name on them."),
                new(285, null, "Perfect, see you then."),
            ]
        );
        Talk(
            db,
            "Piet D.",
            "",
            "/shop",
            [
                new(390, null, "The handle of my mug arrived cracked."),
                new(384, Jonas, "I am sorry. A picture, please, and another one is on its way tonight."),
            ]
        );
        var closed = Talk(
            db,
            "Orla N.",
            "",
            "/shop",
            [
                new(1_700, null, "Do you send to Galway?"),
                new(1_695, Jonas, "Twice a week, on Mondays and Thursdays."),
                new(1_690, null, "Great, thank you!"),
            ]
        );
        closed.Standing = closed.Standing.Close("answered", now - Duration.FromMinutes(1_680));
    }

    private TalkRow Talk(OutcryDb db, string name, string place, string page, IReadOnlyList<Said> said)
    {
        var begun = now - Duration.FromMinutes(said[0].Ago);
        var talk = new TalkRow
        {
            WorkspaceId = definitions.Workspace.Id,
            SiteId = definitions.Site.Id,
            VisitorId = _visitors[db.Talks.Local.Count % _visitors.Count],
            LauncherId = _launcher,
            BegunAt = begun,
            Language = "en",
            Page = definitions.Site.HomeAddress.TrimEnd('/') + page,
            Name = name,
            Place = place,
            Standing = TalkStanding.Begun,
        };
        foreach (var word in said)
            Add(db, talk, word);
        // Nobody is mailed about what a demo begins with.
        talk.AlarmedAt = talk.WaitingSince is null ? null : now;
        talk.SeenByTeam = said[^1].By is null && said[^1].Ago < 60 ? talk.Last - 1 : talk.Last;
        talk.SeenByVisitor = talk.Last;
        db.Talks.Add(talk);
        return talk;
    }

    private void Add(OutcryDb db, TalkRow talk, Said word)
    {
        var at = now - Duration.FromMinutes(word.Ago);
        if (word is { By: { } answers, IsNote: false } && talk.State == TalkState.Unclaimed)
            Put(db, talk, at, SaidBy.House, ReadBy.Team, null, $"{answers} took it.");
        if (word.By is not { } by)
            talk.Standing = talk.Standing.VisitorSaid(at, isHolderThere: true).Standing;
        else if (!word.IsNote)
        {
            talk.Standing = talk.Standing.MemberSaid(_members[by]).Standing;
            (talk.GivenAt, talk.AnsweredAt) = (talk.GivenAt ?? at, talk.AnsweredAt ?? at);
        }
        Put(
            db,
            talk,
            at,
            word.By is null ? SaidBy.Visitor : SaidBy.Member,
            word.IsNote ? ReadBy.Team : ReadBy.Both,
            word.By,
            word.Text
        );
        if (!word.IsNote)
            talk.Glimpse = TalkText.GlimpseOf(word.Text);
        talk.LastAt = at;
    }

    private void Put(OutcryDb db, TalkRow talk, Instant at, SaidBy by, ReadBy forWhom, string? member, string text) =>
        db.TalkWords.Add(
            new TalkWordRow
            {
                Id = Guid.CreateVersion7(),
                WorkspaceId = talk.WorkspaceId,
                TalkId = talk.Id,
                Number = ++talk.Last,
                By = by,
                For = forWhom,
                MemberId = member is null ? null : _members[member],
                Name = member ?? "",
                Text = text,
                At = at,
                SearchedAs = SearchLanguages.Of(talk.Language),
            }
        );

    private void AddReplies(OutcryDb db)
    {
        foreach (
            var (shortcut, text) in new[]
            {
                ("care", "Every glaze of ours can go in the dishwasher at 40 degrees; gold rims want a sponge."),
                (
                    "groups",
                    "Up to eight fit at the long table; for more we open a second kiln day. When would suit you?"
                ),
                ("hello", "Hello {{ name | default: \"there\" }}, {{ member }} here. What can I do for you?"),
                ("hours", "The studio is open Tuesday to Saturday, nine to five."),
            }
        )
            db.SavedReplies.Add(
                new SavedReplyRow
                {
                    WorkspaceId = definitions.Workspace.Id,
                    SiteId = definitions.Site.Id,
                    Shortcut = shortcut,
                    Text = text,
                    ChangedBy = Jonas,
                    ChangedAt = now - Duration.FromDays(9),
                }
            );
    }
}
