using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>Words that are blocked later hold what is in the ledger already.</summary>
public sealed class WordScanTests(TestDesk desk)
{
    [Fact]
    public async Task Words_added_later_hold_what_is_there_and_leave_what_somebody_let_pass()
    {
        var owner = await desk.OwnerAsync();
        var care = $"/api/sites/{desk.World.Site.Id}/care";
        var marked = $"Glimmerwort {Guid.NewGuid():N}"[..24];
        await using var db = desk.Database.Open();
        var source = await db.Sources.FirstAsync(s => s.SiteId == desk.World.Site.Id);
        EventRow Row(string product) =>
            new()
            {
                WorkspaceId = desk.World.Site.WorkspaceId,
                SiteId = desk.World.Site.Id,
                SourceId = source.Id,
                ExternalId = Guid.NewGuid().ToString(),
                Kind = EventKind.Purchase,
                At = SystemClock.Instance.GetCurrentInstant() - Duration.FromHours(1),
                State = EventState.Usable,
                PersonKey = Guid.NewGuid().ToString(),
                ProductName = product,
            };
        var (bad, good) = (Row($"A {marked} mug"), Row("A blue mug"));
        db.Events.AddRange(bad, good);
        await db.SaveChangesAsync();
        var words = (await owner.GetAsync(care)).GetProperty("words");
        var there = words.GetProperty("added").EnumerateArray().Select(w => w.GetString()!).ToList();
        try
        {
            await owner.SendAsync(
                HttpMethod.Put,
                care,
                new
                {
                    words = new
                    {
                        languages = words.GetProperty("languages"),
                        added = (string[])[.. there, marked.Split(' ')[0].ToUpperInvariant(), marked.Split(' ')[1]],
                        takenOut = words.GetProperty("takenOut"),
                    },
                }
            );
            await Eventually.GetAsync(() => StateAsync(bad.Id), s => s == EventState.Held);
            Assert.Equal(EventState.Usable, await StateAsync(good.Id));
            await Eventually.GetAsync(
                async () =>
                    (await owner.GetAsync(care)).TryGetProperty("stillToScan", out var left)
                    && left.ValueKind == System.Text.Json.JsonValueKind.Number,
                due => !due
            );
            // Somebody lets it pass: the same words hold it no second time.
            await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/events/{bad.Id}/release");
            await owner.SendAsync(
                HttpMethod.Put,
                care,
                new
                {
                    words = new
                    {
                        languages = words.GetProperty("languages"),
                        added = (string[])
                            [.. there, marked.Split(' ')[0], marked.Split(' ')[1], $"other{Guid.NewGuid():N}"[..20]],
                        takenOut = words.GetProperty("takenOut"),
                    },
                }
            );
            await Eventually.GetAsync(
                async () =>
                {
                    await using var fresh = desk.Database.Open();
                    return (await fresh.Sites.AsNoTracking().FirstAsync(s => s.Id == desk.World.Site.Id))
                        .WordsDue
                        .Count;
                },
                due => due == 0
            );
            Assert.Equal(EventState.Usable, await StateAsync(bad.Id));
        }
        finally
        {
            await owner.SendAsync(HttpMethod.Put, care, new { words });
        }
    }

    private async Task<EventState> StateAsync(Guid id)
    {
        await using var db = desk.Database.Open();
        return (await db.Events.AsNoTracking().FirstAsync(e => e.Id == id)).State;
    }
}
