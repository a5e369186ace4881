using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

// Its launchers: one for the whole site, one for groups.
internal sealed partial class Definitions
{
    private const string Oxide = "#9C3517";

    /// <summary>The launchers, with the day of the past on which each went live.</summary>
    public IEnumerable<(DefinitionRow Row, int LiveFromDay)> Launchers()
    {
        yield return (Row("Ask the studio", AskTheStudio()), 2);
        yield return (Row("Group visits", GroupVisits()), 6);
    }

    private LauncherBrief AskTheStudio()
    {
        var begin = LauncherStarter.Launcher("Europe/London", Oxide, StarterBrief.Ground);
        return begin with
        {
            Where = On([], ["/cart", "/checkout/**"]),
            Words =
            [
                new LauncherWords(
                    "",
                    "Ask the studio",
                    "Leave us a note",
                    "Ask the studio",
                    "What would you like to know?",
                    "We are at the wheel or asleep. Leave a note and we answer by e-mail.",
                    "Thank you. One of us answers before the next firing."
                ),
                new LauncherWords(
                    "de",
                    "Frag die Werkstatt",
                    "Notiz hinterlassen",
                    "Frag die Werkstatt",
                    "Was möchten Sie wissen?",
                    "Gerade ist niemand da. Schreiben Sie uns, wir antworten per E-Mail.",
                    ""
                ),
                new LauncherWords(
                    "ar",
                    "اسأل الورشة",
                    "اترك رسالة",
                    "اسأل الورشة",
                    "ماذا تود أن تعرف؟",
                    "لا أحد هنا الآن. اترك رسالة وسنجيبك بالبريد الإلكتروني.",
                    ""
                ),
            ],
            Channels =
            [
                begin.Channels[0] with
                {
                    Label = "Write to us",
                    Translations =
                    [
                        new ChannelWords("de", "Schreiben Sie uns", ""),
                        new ChannelWords("ar", "اكتب إلينا", ""),
                    ],
                },
                Channel(ChannelKind.Messenger, "@emberwick", "Wren") with
                {
                    AppLink = "wren://chat?to={handle}&text={text}",
                    WebLink = $"{siteAddress}/outside/wren/{{handle}}?text={{text}}",
                    Prefill = "Hello Emberwick, about {{ page }}: ",
                },
                Channel(ChannelKind.Phone, "+44 191 496 0182", "") with
                {
                    Hours = ChannelHours.WhileOpen,
                },
                Channel(ChannelKind.Email, "ask@emberwick.example", "") with
                {
                    Prefill = "I was reading {{ page }} and would like to know ",
                },
                Channel(ChannelKind.Link, "/outside/bookings", "Book a place") with
                {
                    Translations =
                    [
                        new ChannelWords("de", "Platz buchen", ""),
                        new ChannelWords("ar", "احجز مكانًا", ""),
                    ],
                },
            ],
            Hours = Studio(),
            Rungs =
            [
                LauncherStarter.Rung(GreetingPurpose.Orders) with
                {
                    Where = On(["/order/**", "/studio/**"], []),
                    Words =
                    [
                        new GreetingWords(
                            "",
                            "Looking for your parcel?",
                            ["Where is my parcel?", "Something arrived broken"]
                        ),
                        new GreetingWords(
                            "de",
                            "Suchen Sie Ihr Paket?",
                            ["Wo ist mein Paket?", "Etwas kam zerbrochen an"]
                        ),
                    ],
                },
                LauncherStarter.Rung(GreetingPurpose.Groups) with
                {
                    Where = On(["/workshops/*"], []),
                    Words =
                    [
                        new GreetingWords(
                            "",
                            "Coming as a group? Take the whole studio.",
                            ["Yes, six to eight of us", "More than eight", "Just two or three"]
                        ),
                        new GreetingWords(
                            "de",
                            "Als Gruppe unterwegs? Nehmen Sie die ganze Werkstatt.",
                            ["Ja, sechs bis acht", "Mehr als acht", "Nur zwei oder drei"]
                        ),
                    ],
                },
                LauncherStarter.Rung(GreetingPurpose.NewHere) with
                {
                    Where = On(["/shop/*"], []),
                    Words =
                    [
                        new GreetingWords("", "Which size? Ask us.", ["How large is it?", "Will it go in the oven?"]),
                        new GreetingWords("de", "Welche Größe? Fragen Sie uns.", []),
                    ],
                },
                LauncherStarter.Rung(GreetingPurpose.Own) with
                {
                    When = new DueFacet([Trigger.After(50)], Join.All, Schedule.Always, OnlyIfAvailable: false),
                    Words =
                    [
                        new GreetingWords("", "Questions? Ask away.", []),
                        new GreetingWords("de", "Fragen? Nur zu.", []),
                        new GreetingWords("ar", "أسئلة؟ تفضل بالسؤال.", []),
                    ],
                },
            ],
            Fragment = "ask",
        };
    }

    private LauncherBrief GroupVisits()
    {
        var begin = LauncherStarter.Launcher("Europe/London", "#1F2D28", "#E2ECE5");
        return begin with
        {
            Where = On(["/workshops"], []),
            Words =
            [
                new LauncherWords(
                    "",
                    "Come as a group",
                    "",
                    "Group visits",
                    "Tell us how many you are and when.",
                    "",
                    "Thank you. We send you dates within two days."
                ),
                // In the language that its script speaks, too.
                new LauncherWords(
                    "nl",
                    "Kom als groep",
                    "",
                    "Groepsbezoek",
                    "Vertel ons met hoeveel jullie zijn en wanneer.",
                    "",
                    "Dank je. Binnen twee dagen krijg je data van ons."
                ),
            ],
            Speaker = new Speaker(Members: false, "Ines Okoro", "keeps the diary", ""),
            Look = begin.Look with { Sign = ButtonSign.Question },
            ScriptId = _groupVisit,
            Channels =
            [
                Channel(ChannelKind.Chat, "", "Talk about it here") with
                {
                    Translations = [new ChannelWords("nl", "Praat er hier over", "")],
                },
                Channel(ChannelKind.Form, "", "Ask for a date") with
                {
                    Translations = [new ChannelWords("nl", "Vraag een datum aan", "")],
                    Fields =
                    [
                        new FormField(AskedField.Name, true),
                        new FormField(AskedField.Email, true),
                        new FormField(AskedField.Phone, false),
                        new FormField(AskedField.Message, true),
                    ],
                },
                Channel(ChannelKind.Phone, "+44 191 496 0182", "") with
                {
                    Hours = ChannelHours.WhileOpen,
                },
            ],
            Hours = Studio(),
            Rungs = [],
        };
    }

    private static Channel Channel(ChannelKind kind, string target, string label) =>
        new(
            Guid.CreateVersion7(),
            kind,
            target,
            "",
            "",
            label,
            "",
            [],
            ChannelHours.Always,
            [],
            [],
            [],
            NewWindow: false
        );

    private OpeningHours Studio()
    {
        HoursSpan On(IsoDayOfWeek day, int fromMinutes, int untilMinutes) =>
            new(day, LocalTime.Midnight.PlusMinutes(fromMinutes), LocalTime.Midnight.PlusMinutes(untilMinutes));
        // Days to come, seen from when the demo is begun.
        var today = (start + Duration.FromDays(SeedCommand.Days)).InUtc().Date;
        var year = today.Year;
        return new OpeningHours(
            "Europe/London",
            [
                On(IsoDayOfWeek.Tuesday, 540, 750),
                On(IsoDayOfWeek.Tuesday, 810, 1050),
                On(IsoDayOfWeek.Wednesday, 540, 750),
                On(IsoDayOfWeek.Wednesday, 810, 1050),
                On(IsoDayOfWeek.Thursday, 540, 750),
                On(IsoDayOfWeek.Thursday, 810, 1200),
                On(IsoDayOfWeek.Friday, 540, 750),
                On(IsoDayOfWeek.Friday, 810, 1050),
                On(IsoDayOfWeek.Saturday, 600, 960),
            ],
            [
                DatedSpan.Day(today.Next(IsoDayOfWeek.Wednesday), "Glaze day"),
                new DatedSpan(
                    new LocalDate(year, 12, 24).AtMidnight(),
                    new LocalDate(year + 1, 1, 3).AtMidnight(),
                    "The kiln rests"
                ),
                DatedSpan.Day(new LocalDate(year + 1, 5, 4), "Clay delivery"),
            ],
            [
                new DatedSpan(
                    today.Next(IsoDayOfWeek.Sunday).At(new LocalTime(11, 0)),
                    today.Next(IsoDayOfWeek.Sunday).At(new LocalTime(15, 0)),
                    "Open studio"
                ),
            ],
            OnlyIfPresent: false
        );
    }

    private DefinitionRow Row(string name, LauncherBrief brief) =>
        new()
        {
            WorkspaceId = Workspace.Id,
            SiteId = Site.Id,
            Name = name,
            State = DefinitionState.Draft,
            Kind = LauncherKind.Launcher,
            Draft = KeptContent.Of(brief),
            DraftVersion = 1,
            CreatedAt = start,
            ChangedAt = start,
            ChangedBy = "Marta Quill",
        };
}
