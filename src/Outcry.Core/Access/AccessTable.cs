using System.Collections.Frozen;

namespace Outcry.Core.Access;

/// <summary>A line of the table as it is shown to members.</summary>
/// <param name="Right">What it is about.</param>
/// <param name="Words">What that allows, for a member to read.</param>
/// <param name="Roles">Who may.</param>
public sealed record AccessLine(Right Right, string Words, IReadOnlyList<Role> Roles);

/// <summary>Who may do what: the one table that the server asks, the desk shows and the tests walk through.</summary>
public static class AccessTable
{
    /// <summary>The roles in the order in which they are shown.</summary>
    public static IReadOnlyList<Role> Roles { get; } =
    [Role.Owner, Role.Publisher, Role.Editor, Role.Responder, Role.Viewer];

    /// <summary>Every right once.</summary>
    public static IReadOnlyList<AccessLine> Lines { get; } =
    [
        new(Right.Enter, "Enter, see masked events and who is there", Roles),
        new(Right.See, "See callouts, launchers, results", [Role.Owner, Role.Publisher, Role.Editor, Role.Viewer]),
        new(Right.Draft, "Draft, rehearse, segments, pictures", [Role.Owner, Role.Publisher, Role.Editor]),
        new(Right.Publish, "Publish, off air, house rules, events, approve", [Role.Owner, Role.Publisher]),
        new(Right.Answer, "Inbox, leads, whole names and addresses", [Role.Owner, Role.Publisher, Role.Responder]),
        new(Right.Connect, "Sources with secrets, sites, webhooks", [Role.Owner, Role.Publisher]),
        new(Right.Govern, "Members, keys, erase, export everything", [Role.Owner]),
    ];

    private static readonly FrozenDictionary<Role, FrozenSet<Right>> ByRole = Roles.ToFrozenDictionary(
        role => role,
        role => Lines.Where(l => l.Roles.Contains(role)).Select(l => l.Right).ToFrozenSet()
    );

    /// <summary>What a role may.</summary>
    public static IReadOnlySet<Right> Of(Role role) => ByRole[role];

    /// <summary>Whether a role may do something.</summary>
    public static bool Allows(Role role, Right right) => ByRole[role].Contains(right);

    /// <summary>The sentence that a member without the right is told: what is theirs not to do, and whom to ask.</summary>
    public static string Refusal(Right right) =>
        right switch
        {
            Right.See =>
                "Your role answers visitors; callouts and results are not part of it. Ask an owner for another role.",
            Right.Draft => "Your role does not draft. Ask an owner for a role that may.",
            Right.Publish => "Only publishers and owners change what visitors see. Ask one of them.",
            Right.Answer =>
                "Your role does not see people's whole names and addresses. Ask an owner for a role that may.",
            Right.Connect => "Only publishers and owners connect sources and sites. Ask one of them.",
            Right.Govern => "Only owners can do this. Ask one of them.",
            _ => "You are not a member here.",
        };
}
