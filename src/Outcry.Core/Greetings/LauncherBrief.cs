using System.Text.Json.Serialization;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;

namespace Outcry.Core.Greetings;

/// <summary>The sign on a launcher's button.</summary>
public enum ButtonSign
{
    /// <summary>None: words only.</summary>
    None,

    /// <summary>A speech bubble.</summary>
    Speech,

    /// <summary>A question mark.</summary>
    Question,

    /// <summary>A picture by its address.</summary>
    Picture,
}

/// <summary>How large the button is.</summary>
public enum ButtonSize
{
    /// <summary>36 px high.</summary>
    Small,

    /// <summary>44 px high.</summary>
    Normal,

    /// <summary>56 px high.</summary>
    Large,
}

/// <summary>How the button and the panel look, and where they stand.</summary>
/// <param name="Sign">The sign on the button.</param>
/// <param name="PictureAddress">Its picture, where it is one.</param>
/// <param name="ShowsWords">Whether the button has its words on it; else they are read out only.</param>
/// <param name="Side">Side of the screen.</param>
/// <param name="EdgePx">Distance from the bottom, 0 to 400 CSS pixels.</param>
/// <param name="SidePx">Distance from the side, 0 to 400 CSS pixels.</param>
/// <param name="PhoneSide">The side on phones.</param>
/// <param name="PhoneEdgePx">The distance from the bottom on phones.</param>
/// <param name="Size">How large.</param>
/// <param name="Band">Colour of the band and the links, #RRGGBB.</param>
/// <param name="Ground">Colour of the ground, #RRGGBB.</param>
/// <param name="Dot">Whether a dot says that the team is there.</param>
/// <param name="Typeface">The letters.</param>
/// <param name="CornerPx">How round corners are, 0 to 24 CSS pixels.</param>
public sealed record LauncherLook(
    ButtonSign Sign,
    string PictureAddress,
    bool ShowsWords,
    Side Side,
    int EdgePx,
    int SidePx,
    Side PhoneSide,
    int PhoneEdgePx,
    ButtonSize Size,
    string Band,
    string Ground,
    bool Dot,
    Typeface Typeface,
    int CornerPx = BrandKit.UsualCornerPx
);

/// <summary>Who speaks in the panel.</summary>
/// <param name="Members">Whether those of the team who are there are named.</param>
/// <param name="Name">Else this name; empty for none.</param>
/// <param name="Role">What they are: "potter".</param>
/// <param name="Portrait">Address of a picture; empty for none.</param>
public sealed record Speaker(bool Members, string Name, string Role, string Portrait);

/// <summary>A launcher's words in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Button">On the button.</param>
/// <param name="ClosedButton">On the button while closed; empty for the same.</param>
/// <param name="Title">Above the panel; empty for the button's words.</param>
/// <param name="Greeting">In large in the panel; Liquid and the Markdown subset.</param>
/// <param name="ClosedGreeting">The same while closed; empty for the same.</param>
/// <param name="Thanks">After a message was sent; empty for the built-in words.</param>
public sealed record LauncherWords(
    string Language,
    string Button,
    string ClosedButton,
    string Title,
    string Greeting,
    string ClosedGreeting,
    string Thanks
);

/// <summary>What becomes of a launcher while it is closed.</summary>
/// <param name="Hides">Whether it is not there at all.</param>
/// <param name="TakesMessages">Whether a message can be left, where some channel takes one.</param>
/// <param name="SaysNext">Whether it says when it opens next, in the visitor's own time.</param>
public sealed record WhenClosed(bool Hides, bool TakesMessages, bool SaysNext);

/// <summary>What a greeting does when it is due.</summary>
public enum GreetingAct
{
    /// <summary>Shows its words in a bubble by the button.</summary>
    Bubble,

    /// <summary>Opens the panel with them; on phones a bubble all the same.</summary>
    OpenPanel,
}

/// <summary>While what a greeting may come.</summary>
public enum GreetsWhile
{
    /// <summary>Always.</summary>
    Always,

    /// <summary>While the launcher is open.</summary>
    Open,

    /// <summary>While it is closed.</summary>
    Closed,
}

/// <summary>A greeting's words in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Words">What it says; Liquid and the Markdown subset.</param>
/// <param name="Replies">Ready replies under it: at most 8.</param>
public sealed record GreetingWords(string Language, string Words, IReadOnlyList<string> Replies);

/// <summary>One rung of a ladder: a greeting, for whom and when.</summary>
/// <param name="Id">Under which it is counted, limited and explained.</param>
/// <param name="Where">On which pages, among those of its launcher.</param>
/// <param name="Who">To whom.</param>
/// <param name="Languages">Only for readers of one of these, BCP 47; none for all.</param>
/// <param name="While">While its launcher is open, closed, or either.</param>
/// <param name="When">When it is due.</param>
/// <param name="HowOften">How often for one visitor.</param>
/// <param name="Words">What it says, the site's own language first.</param>
/// <param name="Does">What it does.</param>
/// <param name="Sound">Whether it is heard, once the visitor has done something on the page.</param>
/// <param name="StaySeconds">Seconds that its bubble stays, 2 to 120; null for until closed.</param>
public sealed record Rung(
    Guid Id,
    WhereFacet Where,
    WhoFacet Who,
    IReadOnlyList<string> Languages,
    GreetsWhile While,
    DueFacet When,
    HowOftenFacet HowOften,
    IReadOnlyList<GreetingWords> Words,
    GreetingAct Does,
    bool Sound,
    int? StaySeconds
);

/// <summary>A launcher's definition, as the desk edits it and revisions freeze it.</summary>
/// <param name="Where">On which pages it stands.</param>
/// <param name="Who">For whom; with the devices on which it does not stand.</param>
/// <param name="Priority">Of several that could stand the lowest number does: 1 to 9.</param>
/// <param name="Look">How it looks.</param>
/// <param name="Speaker">Who speaks.</param>
/// <param name="Words">Its words, the site's own language first.</param>
/// <param name="Channels">Ways to talk, in order.</param>
/// <param name="Hours">When the team is there.</param>
/// <param name="Closed">What becomes of it while closed.</param>
/// <param name="Rungs">Its greetings: the first that fits is the one.</param>
/// <param name="ThenNext">Whether a rung that how often refuses is passed over; else nothing greets then.</param>
/// <param name="MostPerVisit">Greetings in one visit at most: 1 to 20.</param>
/// <param name="Fragment">A fragment of a page's address that opens the panel, without "#"; empty for none.</param>
/// <param name="Direct">Whether a click leads straight to the channel where only one is offered.</param>
/// <param name="MailTo">Addresses that messages are mailed to; none for the owners of the workspace.</param>
/// <param name="ScriptId">The script with which its talks begin, while that is live; null for none.</param>
/// <param name="GroupId">Who of the team answers here; null for everybody who may.</param>
public sealed record LauncherBrief(
    WhereFacet Where,
    WhoFacet Who,
    int Priority,
    LauncherLook Look,
    Speaker Speaker,
    IReadOnlyList<LauncherWords> Words,
    IReadOnlyList<Channel> Channels,
    OpeningHours Hours,
    WhenClosed Closed,
    IReadOnlyList<Rung> Rungs,
    bool ThenNext,
    int MostPerVisit,
    string Fragment,
    bool Direct,
    IReadOnlyList<string> MailTo,
    Guid? ScriptId = null,
    Guid? GroupId = null
)
{
    /// <summary>Its words in the site's own language.</summary>
    [JsonIgnore]
    public LauncherWords OwnWords => Words.Count > 0 ? Words[0] : new LauncherWords("", "", "", "", "", "", "");
}
