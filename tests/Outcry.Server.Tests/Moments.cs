using System.Text.Json;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Store;

namespace Outcry.Server.Tests;

/// <summary>Starts and publishes moments through the desk's own endpoints.</summary>
internal static class Moments
{
    public static async Task<Guid> StartAsync(DeskClient member, TestDesk desk, Func<Brief, Brief> vary)
    {
        var (status, made) = await member.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/callouts",
            new { source = desk.World.Checkout.Id }
        );
        Assert.Equal(HttpStatusCode.Created, status);
        var id = made.GetProperty("id").GetGuid();
        var saved = await SaveAsync(
            member,
            desk,
            id,
            vary(StarterBrief.Moment(EventKind.Purchase, [desk.World.Checkout.Id])),
            1
        );
        Assert.Equal(HttpStatusCode.OK, saved.Status);
        return id;
    }

    public static Task<(HttpStatusCode Status, JsonElement Body)> SaveAsync(
        DeskClient member,
        TestDesk desk,
        Guid callout,
        Brief brief,
        int version
    ) =>
        member.SendAsync(
            HttpMethod.Put,
            $"/api/sites/{desk.World.Site.Id}/callouts/{callout}/draft",
            new
            {
                name = "A moment",
                content = JsonSerializer.SerializeToElement(brief, JsonColumn.Options),
                version,
            }
        );

    public static Task<(HttpStatusCode Status, JsonElement Body)> PublishAsync(
        DeskClient member,
        TestDesk desk,
        Guid callout,
        int version = 2
    ) => member.PostAsync($"/api/sites/{desk.World.Site.Id}/callouts/{callout}/publish", new { version });

    /// <summary>The content of a notice that could go live, as it is sent.</summary>
    public static JsonElement Notice(string message)
    {
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        return JsonSerializer.SerializeToElement(
            notice with
            {
                Say = notice.Say with { Message = message },
            },
            JsonColumn.Options
        );
    }
}
