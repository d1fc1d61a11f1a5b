using System.Reflection;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Tests;

public sealed class PageModelTests
{
    private const int Most = 20;

    [Fact]
    public void A_page_asks_others_for_what_it_shows_and_stays_small()
    {
        const BindingFlags Own = BindingFlags.Public | BindingFlags.Instance | BindingFlags.Static | BindingFlags.DeclaredOnly;
        var sizes = typeof(Pages.FraltoPage)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(PageModel)))
            .ToDictionary(
                t => t.Name,
                t => t.GetMembers(Own).Count(m => m is not MethodInfo { IsSpecialName: true } and not ConstructorInfo)
            );
        sizes.Count.ShouldBeGreaterThan(15);
        sizes.Where(s => s.Value > Most).ShouldBeEmpty();
    }
}
