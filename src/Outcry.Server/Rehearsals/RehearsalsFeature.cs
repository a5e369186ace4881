using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Rehearsals;

/// <summary>Visits that are imagined: played at the desk, or walked on the live site.</summary>
internal static class RehearsalsFeature
{
    public static void MapRehearsals(this RouteGroupBuilder api)
    {
        var site = api.MapGroup("/sites/{siteId:guid}").WithTags("Rehearsals");
        site.MapPost("/rehearsals", RehearseVisit.HandleAsync).WithName("RehearseVisit");
        site.MapPost("/cast", CastVisitor.Handle).WithName("CastVisitor");
        site.MapPost("/trials", OpenTrial.HandleAsync).WithName("OpenTrial");
        site.MapGet("/points", ListPoints.HandleAsync).WithName("ListPoints");
        site.MapDelete("/points/{pointId:guid}", ListPoints.RemoveAsync).For(Right.Draft).WithName("RemovePoint");
    }
}
