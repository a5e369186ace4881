using System.Security.Cryptography;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Bench;

/// <summary>Fills a database with a site of 200 live callouts for the real host to serve.</summary>
internal static class LoadedSite
{
    public static async Task RunAsync(string connection)
    {
        await using var db = SystemDb.To(connection).Open();
        await db.Database.MigrateAsync();
        var now = SystemClock.Instance.GetCurrentInstant();
        var workspace = new WorkspaceRow { Name = "Bench" };
        var site = new SiteRow
        {
            WorkspaceId = workspace.Id,
            Name = "Bench",
            Key = "bench",
            HomeAddress = "http://pots.test/",
            AllowedHosts = ["pots.test"],
            TimeZone = "Europe/London",
            Rules = HouseRules.Start,
        };
        var source = new SourceRow
        {
            WorkspaceId = workspace.Id,
            SiteId = site.Id,
            Name = "Shop",
            Kind = SourceKind.SignedWebhook,
            EventKind = EventKind.Purchase,
            Display = DisplayPolicy.Start,
        };
        db.AddRange(workspace, site, source);
        for (var i = 0; i < SampleSite.Callouts; i++)
        {
            var row = new DefinitionRow
            {
                WorkspaceId = workspace.Id,
                SiteId = site.Id,
                Name = $"c{i}",
                State = DefinitionState.Live,
                Kind = BriefKind.Callout,
                Draft = KeptContent.Of(SampleSite.Brief(i, source.Id)),
                CreatedAt = now,
                ChangedAt = now,
                ChangedBy = "bench",
            };
            db.Add(row);
            db.Add(row.Freeze(now, "bench"));
        }
        foreach (var e in SampleSite.Events(source.Id, now))
            db.Add(
                new EventRow
                {
                    Id = e.Id,
                    WorkspaceId = workspace.Id,
                    SiteId = site.Id,
                    SourceId = source.Id,
                    ExternalId = $"{e.Id}",
                    Kind = e.Kind,
                    At = e.At,
                    FirstName = "Noor",
                    LastInitial = "H",
                    City = "Leeds",
                    Region = "Yorkshire",
                    Country = "England",
                    PersonKey = e.PersonKey,
                    VisitorId = e.VisitorId,
                    ProductName = e.Product!.Name,
                    ProductAddress = e.Product.Address,
                    ProductPicture = e.Product.Picture,
                }
            );
        await db.SaveChangesAsync();
    }
}
