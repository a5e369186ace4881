using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Following;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Standins.Seed;

/// <summary>What the studio asks its visitors for, and who said yes in the month.</summary>
internal sealed class DemoLeads(IServiceProvider services, Definitions definitions, Instant now, string desk)
{
    private const string Owner = "Marta Quill";
    private const string Publisher = "Ines Okoro";

    private static readonly (string First, string Last, string Place)[] People =
    [
        ("Noor", "Haddad", "Leeds"),
        ("Tom", "Ashby", "York"),
        ("Mieke", "de Wit", "Ghent"),
        ("Aoife", "Brennan", "Dublin"),
        ("Lukas", "Vogt", "Cologne"),
        ("Priya", "Nair", "London"),
        ("Elena", "Rossi", "Turin"),
        ("Sam", "Okafor", "Bristol"),
        ("Hanne", "Lund", "Aarhus"),
        ("Jonah", "Reyes", "Glasgow"),
        ("Clara", "Meyer", "Hamburg"),
        ("Wren", "Tully", "Cardiff"),
    ];

    private readonly Random _chance = new(11);

    public async Task AddAsync()
    {
        await using (var db = services.GetRequiredService<SystemDb>().Open())
        {
            var pool = AddPool(db);
            var guide = AddGuide(db);
            var letter = AddPrompt(db, "A first piece", Letter(pool), 20);
            var reminder = AddPrompt(db, "When the kiln opens", Reminder(), 12);
            AddPrompt(db, "The glaze guide", Guide(guide), null);
            var promise = Promise(db, letter, 1);
            var other = Promise(db, reminder, 2);
            var visitors = await db
                .Events.Where(e => e.SiteId == definitions.Site.Id && e.VisitorId != null)
                .OrderByDescending(e => e.At)
                .Select(e => e.VisitorId!)
                .Take(300)
                .ToListAsync();
            // A demo made small has few of them; the rest are made up.
            visitors =
            [
                .. visitors.Distinct(),
                .. Enumerable.Range(0, 120).Select(_ => Guid.CreateVersion7().ToString("N")),
            ];
            for (var i = 0; i < 46; i++)
                AddLead(db, i, i % 7 == 5 ? reminder : letter, i % 7 == 5 ? other : promise, visitors[60 + i], pool);
            AddFollowUp(db, "After the code", AfterTheCode(letter.Id), l => l is { Email: not null });
            AddFollowUp(db, "Kiln reminders", KilnReminders(reminder.Id), l => l is { Email: null, Phone: not null });
            await db.SaveChangesAsync();
            await ShowAsync(letter, 20, visitors, 690);
            await ShowAsync(reminder, 12, visitors, 240);
        }
        await services.GetRequiredService<LiveSites>().ReloadAsync(definitions.Site.Id, CancellationToken.None);
    }

    // Those who said yes had seen it, and many more had.
    private async Task ShowAsync(DefinitionRow prompt, int days, List<string> visitors, int others)
    {
        var seen = visitors
            .Skip(60)
            .Take(46)
            .Concat(Enumerable.Range(0, others).Select(_ => Guid.CreateVersion7().ToString("N")));
        await services
            .GetRequiredService<SignalCopy>()
            .WriteAsync(
                [
                    .. seen.Select(visitor =>
                    {
                        var at = now - Duration.FromMinutes(60 + _chance.Next((days * 24 * 60) - 120));
                        return new Signal(
                            Guid.CreateVersion7(at.ToDateTimeOffset()),
                            definitions.Site.Id,
                            at,
                            SignalKind.Shown,
                            visitor,
                            1,
                            "/shop",
                            prompt.Id,
                            0,
                            (short)Device.Desktop
                        );
                    }),
                ],
                CancellationToken.None
            );
    }

    private CodePoolRow AddPool(OutcryDb db)
    {
        var pool = new CodePoolRow
        {
            WorkspaceId = definitions.Workspace.Id,
            SiteId = definitions.Site.Id,
            Name = "First piece, 10 % less",
            ChangedBy = Publisher,
            ChangedAt = now - Duration.FromDays(21),
        };
        db.CodePools.Add(pool);
        const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
        for (var i = 0; i < 240; i++)
            db.Codes.Add(
                new CodeRow
                {
                    PoolId = pool.Id,
                    WorkspaceId = pool.WorkspaceId,
                    Code =
                        $"BOWL-{i:000}{new string([.. Enumerable.Range(0, 3).Select(_ => Letters[_chance.Next(Letters.Length)])])}",
                }
            );
        return pool;
    }

    private RewardFileRow AddGuide(OutcryDb db)
    {
        var guide = new RewardFileRow
        {
            WorkspaceId = definitions.Workspace.Id,
            SiteId = definitions.Site.Id,
            Name = "Glazes at home.txt",
            MediaType = "application/octet-stream",
            Bytes = Encoding.UTF8.GetBytes(
                "Glazes at home\n\nThin coats, three of them. Let each dry. Fire slowly, and open the kiln late.\n"
            ),
            AddedBy = Publisher,
            AddedAt = now - Duration.FromDays(4),
        };
        db.RewardFiles.Add(guide);
        return guide;
    }

    // Whoever confirmed came into it then, and is now where its days have brought them.
    private void AddFollowUp(OutcryDb db, string name, FollowUp follow, Func<LeadRow, bool> comes)
    {
        var at = now - Duration.FromDays(20);
        var row = new DefinitionRow
        {
            WorkspaceId = definitions.Workspace.Id,
            SiteId = definitions.Site.Id,
            Name = name,
            State = DefinitionState.Live,
            Kind = FollowUpKind.Name,
            Draft = KeptContent.Of(follow),
            DraftVersion = 2,
            CreatedAt = at,
            ChangedAt = at,
            ChangedBy = Publisher,
        };
        db.Definitions.Add(row);
        db.Revisions.Add(row.Freeze(at, Publisher));
        foreach (var lead in db.Leads.Local.Where(l => l.ConfirmedAt is not null && comes(l)).ToList())
            db.FollowRuns.Add(RunOf(db, lead, follow, row));
    }

    private FollowRunRow RunOf(OutcryDb db, LeadRow lead, FollowUp follow, DefinitionRow row)
    {
        var comes = lead.ConfirmedAt!.Value;
        var zone = DateTimeZoneProviders.Tzdb[definitions.Site.TimeZone];
        var run = new FollowRunRow
        {
            WorkspaceId = row.WorkspaceId,
            SiteId = row.SiteId,
            FollowUpId = row.Id,
            Revision = 1,
            LeadId = lead.Id,
            BegunAt = comes,
            Since = comes,
            DueAt = comes,
            Desk = desk,
        };
        while (run.DueAt is { } due && due <= now)
        {
            var isGone = lead.WithdrawnAt <= due || lead.UnreachableAt <= due;
            var moment = new FollowMoment(
                isGone ? lead.State : LeadState.Confirmed,
                lead.Email is not null,
                lead.Phone is not null,
                ReachedGoal: false,
                Talked: false,
                lead.FollowedAt
            );
            var turn = FollowWalk.Go(follow, run.At, run.Since, moment, due, zone);
            run.Passed = [.. run.Passed, .. follow.Steps.Skip(run.At).Take(turn.At - run.At).Select(s => s.Id)];
            if (turn.Does.Any(s => s.Writes))
                lead.FollowedAt = due;
            foreach (var mail in turn.Does.Where(s => s.Kind == FollowKind.Mail && lead.Email is not null))
                AddMail(
                    db,
                    lead,
                    due,
                    FollowText
                        .Write(mail, "en", "en", new Dictionary<string, string> { ["first_name"] = lead.FirstName })
                        .Subject,
                    SentState.Taken
                );
            foreach (var tag in turn.Does.Where(s => s.Kind == FollowKind.Tag))
                lead.Tags = [.. lead.Tags, tag.Tag];
            (run.At, run.Since, run.DueAt, run.End) = (turn.At, turn.Since, turn.DueAt, turn.End);
            run.EndedAt = turn.End is null ? null : due;
        }
        run.StepId = run.At < follow.Steps.Count ? follow.Steps[run.At].Id : null;
        return run;
    }

    private static FollowUp KilnReminders(Guid reminder)
    {
        static FollowStep Text(string text) =>
            new(Guid.CreateVersion7(), FollowKind.Text, 0, [new FollowWords("", "", text, "")], "", "");
        return new FollowUp(
            FollowsAfter.Yes,
            reminder,
            "",
            [
                Text("Noted. We write to this number the week the kiln is opened. Emberwick Pottery"),
                new FollowStep(Guid.CreateVersion7(), FollowKind.Wait, 7 * 24 * 60, [], "", ""),
                Text(
                    "The kiln opens on Saturday at ten. The pieces are still warm: come and see them. Emberwick Pottery"
                ),
            ],
            [
                .. Enumerable
                    .Range(1, 7)
                    .Select(day => new HoursSpan((IsoDayOfWeek)day, new LocalTime(8, 0), new LocalTime(21, 0))),
            ],
            null,
            EndsWithTalk: false
        );
    }

    private FollowUp AfterTheCode(Guid letter)
    {
        static FollowStep Wait(int days) => new(Guid.CreateVersion7(), FollowKind.Wait, days * 24 * 60, [], "", "");
        FollowStep Mail(string subject, string text, string button, string path) =>
            new(
                Guid.CreateVersion7(),
                FollowKind.Mail,
                0,
                [new FollowWords("", subject, text, button)],
                button.Length > 0 ? $"https://emberwick.example{path}" : "",
                ""
            );
        return new FollowUp(
            FollowsAfter.Yes,
            letter,
            "",
            [
                Wait(1),
                Mail(
                    "Hello {{ first_name | default: \"there\" }}, from the wheel",
                    "The code we sent you holds until the end of the year.\n\nIf you are not sure what to begin with: most people begin with a mug, and come back for the bowl.",
                    "Look at the mugs",
                    "/shop/mugs"
                ),
                Wait(4),
                Mail(
                    "How a bowl gets its colour",
                    "Three thin coats, a slow fire, and a kiln that is opened late.\n\nWe wrote down how, with pictures.",
                    "Read it",
                    "/journal/glazes"
                ),
                Wait(7),
                Mail(
                    "The kiln opens this month",
                    "Come and see the pieces while they are still warm. No need to book.",
                    "",
                    ""
                ),
                new FollowStep(Guid.CreateVersion7(), FollowKind.Tag, 0, [], "", "knows us"),
            ],
            [
                .. Enumerable
                    .Range(1, 7)
                    .Select(day => new HoursSpan((IsoDayOfWeek)day, new LocalTime(9, 0), new LocalTime(20, 0))),
            ],
            definitions.Checkout.Id,
            EndsWithTalk: true
        );
    }

    // A day of the past on which it went live; none for a draft.
    private DefinitionRow AddPrompt(OutcryDb db, string name, Brief brief, int? liveSinceDays)
    {
        var at = now - Duration.FromDays(liveSinceDays ?? 1);
        var row = new DefinitionRow
        {
            WorkspaceId = definitions.Workspace.Id,
            SiteId = definitions.Site.Id,
            Name = name,
            State = liveSinceDays is null ? DefinitionState.Draft : DefinitionState.Live,
            Kind = BriefKind.Callout,
            Draft = KeptContent.Of(brief),
            DraftVersion = 2,
            CreatedAt = at,
            ChangedAt = at,
            ChangedBy = Owner,
        };
        db.Definitions.Add(row);
        if (liveSinceDays is not null)
            db.Revisions.Add(row.Freeze(at, Publisher));
        return row;
    }

    private static Brief Plain(string message, string detail, string where)
    {
        var start = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []);
        return start with
        {
            Say = start.Say with { Message = message, Detail = detail, Picture = SayPicture.None },
            Where = new WhereFacet(where.Split(' '), ["/cart", "/checkout", "/checkout/**"], [], Replaces: false),
            Look = start.Look with { Band = "#9C3517", Ground = "#FFFFFF", Side = Side.Right },
            Priority = 3,
        };
    }

    private static AskWords Words(string button, string promise, string thanks, string detail) =>
        new("", button, promise, "", thanks, detail, "");

    private static Brief Letter(CodePoolRow pool) =>
        Plain("**A first piece, 10 % less**", "One letter a month from the studio.", "/shop /shop/*") with
        {
            Ask = new AskFacet(
                [
                    new PromptField(Guid.CreateVersion7(), FieldKind.Email, "email", true, []),
                    new PromptField(Guid.CreateVersion7(), FieldKind.FirstName, "first_name", false, []),
                ],
                [],
                [
                    Words(
                        "Send me the code",
                        "One letter a month. Leave whenever you like.",
                        "Look in your mail",
                        "The code is yours once you press the button in it."
                    ),
                ],
                Ticks: true,
                Confirms: true,
                new Reward(RewardKind.Pool, "", pool.Id, AwayWhenEmpty: true),
                ["letters"]
            ),
            Look = Plain("", "", "/shop").Look with { Backdrop = "/img/shelves.svg" },
        };

    private static Brief Reminder()
    {
        var plain = Plain(
            "**The kiln opens on a Saturday.** Shall we tell you which?",
            "A text message now, and one the day before.",
            "/journal/** /workshops"
        );
        return plain with
        {
            Ask = new AskFacet(
                [
                    new PromptField(Guid.CreateVersion7(), FieldKind.Phone, "phone", true, []),
                    new PromptField(
                        Guid.CreateVersion7(),
                        FieldKind.Choice,
                        "with",
                        false,
                        [new FieldWords("", "Who comes along?", ["Just me", "Two of us", "A family"])]
                    ),
                ],
                [],
                [
                    Words(
                        "Tell me",
                        "A text message to say that we noted it, and one before each kiln opening. Each says how to take it back.",
                        "We will tell you",
                        "By text message: once now, and once the day before."
                    ),
                ],
                Ticks: false,
                Confirms: false,
                Reward.Nothing,
                ["kiln"]
            ),
            Look = plain.Look with { Shape = Shape.Drawer },
            Priority = 4,
        };
    }

    private static Brief Guide(RewardFileRow guide) =>
        Plain("**Glazes at home**, a guide of four pages", "Yours for an address.", "/journal/**") with
        {
            Ask = new AskFacet(
                [new PromptField(Guid.CreateVersion7(), FieldKind.Email, "email", true, [])],
                [],
                [
                    Words(
                        "Send me the guide",
                        "The guide, and one letter a month. Leave whenever you like.",
                        "It is on its way",
                        ""
                    ),
                ],
                Ticks: true,
                Confirms: true,
                new Reward(RewardKind.File, "", guide.Id, AwayWhenEmpty: false),
                ["letters", "guide"]
            ),
        };

    private PromiseRow Promise(OutcryDb db, DefinitionRow prompt, int number)
    {
        var text = prompt.Draft.Read<Brief>().Ask!.Words[0].Promise;
        var row = new PromiseRow
        {
            WorkspaceId = definitions.Workspace.Id,
            Language = "en",
            Text = text,
            Hash = SHA256.HashData(Encoding.UTF8.GetBytes($"en\n{text}")),
            Number = number,
            FirstAt = now - Duration.FromDays(20),
        };
        db.Promises.Add(row);
        return row;
    }

    private void AddLead(OutcryDb db, int i, DefinitionRow prompt, PromiseRow promise, string visitor, CodePoolRow pool)
    {
        var brief = prompt.Draft.Read<Brief>();
        var (first, last, place) = People[i % People.Length];
        var isByMail = brief.Ask!.Confirms;
        var at = now - Duration.FromMinutes(37 + (i * i * 13));
        var email = isByMail
            ? $"{first}.{last}{(i < People.Length ? "" : $"{i}")}@post.example"
                .ToLowerInvariant()
                .Replace(" ", "", StringComparison.Ordinal)
            : null;
        var phone = isByMail ? null : $"+4474600{i:00000}";
        var values = new Dictionary<string, string>();
        if (email is not null)
            (values["email"], values["first_name"]) = (email, first);
        else
            (values["phone"], values["with"]) = (phone!, i % 2 == 0 ? "Just me" : "A family");
        var life = LeadLife.Begin(promise.Id, isByMail, at);
        var confirmedAt = at + Duration.FromMinutes(2 + (i % 40));
        if (isByMail && i % 4 != 2)
            life = life.Confirm(confirmedAt);
        if (i % 17 == 8)
            life = life.Withdraw(at + Duration.FromHours(30));
        if (i == 31)
            life = life.ComeBack(at + Duration.FromDays(2));
        var lead = new LeadRow
        {
            WorkspaceId = definitions.Workspace.Id,
            Sites = [definitions.Site.Id],
            Email = email,
            EmailKey = email,
            Phone = phone,
            FirstName = isByMail ? first : "",
            GaveAt = at,
            ChangedAt = life.ConfirmedAt ?? at,
            Life = life,
            Answers = values,
            Tags = [.. brief.Ask.Tags],
            Visitors = [visitor],
            From = prompt.Name,
            Page = $"{definitions.Site.HomeAddress.TrimEnd('/')}/shop",
            Campaign = i % 5 == 0 ? "autumn-letter" : "",
            Language = "en",
            Place = place,
        };
        db.Leads.Add(lead);
        var yes = new LeadYesRow
        {
            Id = Guid.CreateVersion7(),
            WorkspaceId = definitions.Workspace.Id,
            SiteId = definitions.Site.Id,
            LeadId = lead.Id,
            CalloutId = prompt.Id,
            Revision = 1,
            Name = prompt.Name,
            PromiseId = promise.Id,
            Ticked = brief.Ask.Ticks,
            Language = "en",
            Page = lead.Page,
            VisitorId = visitor,
            At = at,
            Answers = values,
            ConfirmedAt = life.ConfirmedAt is not null && isByMail ? confirmedAt : null,
            AskedAt = isByMail ? [at] : [],
        };
        if (yes.ConfirmedAt is not null)
        {
            var code = db.Codes.Local.First(c => c.PoolId == pool.Id && c.YesId is null);
            (code.YesId, code.GivenAt, yes.Code) = (yes.Id, confirmedAt, code.Code);
        }
        db.LeadYeses.Add(yes);
        if (isByMail)
            AddMail(
                db,
                lead,
                at,
                "Please confirm your address",
                lead.UnreachableAt is null ? SentState.Taken : SentState.CameBack
            );
        if (yes.ConfirmedAt is not null)
            AddMail(db, lead, confirmedAt, "Here is what is yours", SentState.Taken);
    }

    private static void AddMail(OutcryDb db, LeadRow lead, Instant at, string subject, SentState state) =>
        db.LeadMails.Add(
            new LeadMailRow
            {
                Id = Guid.CreateVersion7(at.ToDateTimeOffset()),
                WorkspaceId = lead.WorkspaceId,
                LeadId = lead.Id,
                Subject = subject,
                State = state,
                At = at,
                ChangedAt = at + Duration.FromSeconds(2),
            }
        );
}
