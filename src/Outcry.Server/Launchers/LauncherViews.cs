using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Launchers;

/// <summary>A launcher with its draft and what is live of it.</summary>
/// <param name="Opens">Where each channel of the draft leads, as it would for a visitor of the home page.</param>
internal sealed record LauncherView(
    Guid Id,
    string Name,
    DefinitionState State,
    int Revision,
    int DraftVersion,
    LauncherBrief Draft,
    LauncherBrief? Live,
    IReadOnlyList<LauncherProblemView> Problems,
    IReadOnlyList<OpensView> Opens,
    Instant ChangedAt,
    string ChangedBy,
    Instant? GoneAt
)
{
    public static LauncherView Of(DeskDefinition<LauncherBrief> launcher)
    {
        var (row, draft, live) = (launcher.Row, launcher.Draft, launcher.Live?.Content);
        return new LauncherView(
            row.Id,
            row.Name,
            row.State,
            row.Revision,
            row.DraftVersion,
            draft,
            live,
            [.. launcher.Problems.Select(p => new LauncherProblemView(p.Field, p.Message, p.Blocks))],
            [.. draft.Channels.Select(c => OpensView.Of(c, launcher.Site))],
            row.ChangedAt,
            row.ChangedBy,
            row.DeletedAt + DefinitionQueries.Undo
        );
    }
}

/// <summary>Something in a launcher that cannot go live, or that its author should know.</summary>
internal sealed record LauncherProblemView(string Field, string Message, bool Blocks);

/// <summary>Where a channel leads.</summary>
/// <param name="Number">Its number as E.164, where it has one.</param>
/// <param name="Problem">What is wrong with it; null when it is accepted.</param>
internal sealed record OpensView(Guid Channel, string? Number, string Address, string App, string? Problem)
{
    public static OpensView Of(Channel channel, LiveSite site)
    {
        var problem = ChannelAddress.Objection(channel, site.Region, site.Context.OwnDomains);
        var text = Prefill.Say(channel.Prefill, site.HomeAddress, site.Name);
        var (address, app) = problem is null ? ChannelAddress.Open(channel, site.Region, text) : ("", "");
        return new OpensView(
            channel.Id,
            channel.Kind is ChannelKind.Phone or ChannelKind.Text or ChannelKind.Messenger
                ? ChannelAddress.NumberOf(channel.Target, site.Region)
                : null,
            address,
            app,
            problem
        );
    }
}
