using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Audience;

/// <summary>Who visits: the team's named rules over visitor facts.</summary>
internal static class AudienceFeature
{
    public static void AddAudience(this WebApplicationBuilder builder) => builder.Services.AddSingleton<CensusTaker>();

    public static void MapAudience(this RouteGroupBuilder api)
    {
        var segments = api.MapGroup("/sites/{siteId:guid}/segments").WithTags("Audience");
        segments.MapGet("", ListSegments.HandleAsync).For(Right.Enter).WithName("ListSegments");
        segments.MapPost("/size", SizeSegment.HandleAsync).WithName("SizeSegment");
        segments.MapPost("", ChangeSegments.AddAsync).For(Right.Draft).WithName("AddSegment");
        segments.MapPut("/{segmentId:guid}", ChangeSegments.ChangeAsync).For(Right.Publish).WithName("ChangeSegment");
        segments
            .MapDelete("/{segmentId:guid}", ChangeSegments.RemoveAsync)
            .For(Right.Publish)
            .WithName("RemoveSegment");
        var visitors = api.MapGroup("/sites/{siteId:guid}/visitors").WithTags("Audience");
        visitors.MapGet("", ListVisitors.HandleAsync).For(Right.Enter).WithName("ListVisitors");
        visitors.MapGet("/seen", ListSeenFacts.HandleAsync).For(Right.Enter).WithName("ListSeenFacts");
        visitors.MapGet("/{visitorId}", ShowVisitor.HandleAsync).For(Right.Enter).WithName("GetVisitor");
        visitors.MapGet("/{visitorId}/visits/{number:int}/journey", ShowVisitor.JourneyAsync).WithName("GetJourney");
    }
}
