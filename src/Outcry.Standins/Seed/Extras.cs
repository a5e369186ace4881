using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Server.Intake.Imports;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

/// <summary>What came besides visits: a waitlist from a file, endorsements by hand, stock levels, and a few events that need a look.</summary>
internal sealed class Extras(IServiceProvider services, Definitions definitions, string siteAddress, Instant now)
{
    public async Task AddAsync()
    {
        await ImportWaitlistAsync();
        await EnterWordsAsync();
        await ReportStockAsync();
        await AskRudelyAsync();
    }

    private async Task ImportWaitlistAsync()
    {
        var path = Path.Combine(Root(), "demo", "spring-waitlist.csv");
        await using var file = File.OpenRead(path);
        var uploads = services.GetRequiredService<UploadStore>();
        var upload = await uploads.KeepAsync(definitions.Site.Id, "spring-waitlist.csv", file, CancellationToken.None);
        var map = new EventMap(
            EventKind.SignUp,
            new Dictionary<FieldMeaning, string>
            {
                [FieldMeaning.FirstName] = "Name",
                [FieldMeaning.Email] = "E-mail",
                [FieldMeaning.Product] = "Workshop",
                [FieldMeaning.Time] = "Signed up",
                [FieldMeaning.City] = "Town",
                [FieldMeaning.Country] = "Country",
            },
            new Dictionary<string, string>()
        );
        var order = new ImportOrder(upload!, definitions.Waitlist, map, null, DryRun: false, "Ines Okoro");
        await services.GetRequiredService<ImportRunner>().RunToEndAsync(order, CancellationToken.None);
    }

    private async Task EnterWordsAsync()
    {
        var recorder = services.GetRequiredService<EventRecorder>();
        foreach (
            var (who, role, words, daysAgo) in new[]
            {
                (
                    "Birgit Solheim",
                    "ceramics curator, Aarhus",
                    "Plain pots, made by people who look at what they make.",
                    20
                ),
                ("Tom Ashworth", "baker in Leeds", "I have dropped the bowl twice. It is still my bowl.", 9),
            }
        )
            await recorder.RecordAsync(
                new IncomingEvent
                {
                    ExternalId = $"hand:{who}",
                    Kind = EventKind.Endorsement,
                    At = now - Duration.FromDays(daysAgo),
                    Product = new EventProduct(who),
                    Fields = new Dictionary<string, string>
                    {
                        [EventFields.Who] = who,
                        [EventFields.Role] = role,
                        [EventFields.Words] = words,
                        ["permission"] = "noted by Marta Quill",
                        ["entered_by"] = "Marta Quill",
                    },
                },
                definitions.KindWords,
                isOwn: false,
                now - Duration.FromDays(daysAgo),
                CancellationToken.None
            );
    }

    private async Task ReportStockAsync()
    {
        var recorder = services.GetRequiredService<EventRecorder>();
        foreach (
            var (product, left, minutesAgo) in new[]
            {
                ("Salt jug", 3, 340),
                ("Celadon vase", 4, 150),
                ("Iron bowl", 7, 95),
            }
        )
            await recorder.RecordAsync(
                new IncomingEvent
                {
                    ExternalId = $"stock:{product}:{left}",
                    Kind = EventKind.StockLevel,
                    At = now - Duration.FromMinutes(minutesAgo),
                    Product = new EventProduct(
                        product,
                        definitions.Site.HomeAddress.TrimEnd('/')
                            + $"/shop/{product.Replace(' ', '-').ToLowerInvariant()}"
                    ),
                    Fields = new Dictionary<string, string> { [EventFields.Left] = $"{left}" },
                },
                definitions.Stock,
                isOwn: false,
                now,
                CancellationToken.None
            );
    }

    private async Task AskRudelyAsync()
    {
        var site = services.GetRequiredService<LiveSites>().GetById(definitions.Site.Id);
        var forms = services.GetRequiredService<FormCapture>();
        foreach (var (name, minutesAgo) in new[] { ("G r o t b a g Klein", 64), ("Grotbäg Doyle", 410) })
        {
            var at = now - Duration.FromMinutes(minutesAgo);
            var submission = new FormSubmission(
                Guid.CreateVersion7(at.ToDateTimeOffset()),
                definitions.Quote.Id,
                new Dictionary<string, string>
                {
                    ["name"] = name,
                    ["email"] = "nobody@post.example",
                    ["piece"] = "Tiles",
                    ["pieces"] = "6",
                }
            );
            var actor = new PageActor(
                $"odd{minutesAgo}",
                IsOwn: false,
                PrivacyControl: false,
                Place.Unknown,
                Block: ""
            );
            await forms.TakeAsync(
                site,
                submission,
                siteAddress + "/quote",
                actor,
                desk: "",
                at,
                CancellationToken.None
            );
        }
    }

    private static string Root()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
            if (Directory.Exists(Path.Combine(at.FullName, "demo")))
                return at.FullName;
        throw new InvalidOperationException("The folder demo/ is not beside the program.");
    }
}
