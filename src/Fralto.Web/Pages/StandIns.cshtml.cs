using Fralto.StandIns.Maltings;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The demo's stand-ins: what can be broken, to see what Fralto says of it.</summary>
public sealed class StandInsModel(IServiceProvider services) : FraltoPage
{
    private readonly StandInPlant? _plant = services.GetService<StandInPlant>();

    public IReadOnlyList<(string Name, int Port)> StandIns => _plant?.Controllers ?? [];

    public IReadOnlyList<Fault> Faults => _plant?.Faults ?? [];

    public IActionResult OnGet() => _plant is null ? NotFound() : Page();

    public async Task<IActionResult> OnPostAsync(string key, bool on)
    {
        if (_plant is null || !await _plant.SetFaultAsync(key, on)) return NotFound();
        var fault = Faults.First(f => f.Key == key);
        Done = on ? $"Broken: {fault.Controller}, {fault.Text}" : $"Mended: {fault.Controller}, {fault.Text}";
        return RedirectToPage();
    }
}
