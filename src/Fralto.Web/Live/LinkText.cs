using Fralto.Core.Controllers;
using Fralto.Links;

namespace Fralto.Web.Live;

/// <summary>Links and addresses as text.</summary>
public static class LinkText
{
    /// <summary>An address where there is little room: its end, which is what differs.</summary>
    public static string Short(TagAddress address) =>
        address.Place is { Length: > ShortAddress } text ? $"…{text[^(ShortAddress - 1)..]}" : address.Place;

    private const int ShortAddress = 15;

    /// <summary>State of a link in one word; null before there is a link.</summary>
    public static string Word(LinkState? state) =>
        state switch
        {
            LinkState.Up => "up",
            LinkState.Partial => "up, not all there",
            LinkState.Down => "down",
            LinkState.Connecting => "connecting",
            _ => "starting",
        };
}
