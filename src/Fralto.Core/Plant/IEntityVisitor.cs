using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Plant;

/// <summary>Something that is done with an entity of any kind. A kind that is added adds a method here, and whatever deals with entities
/// has to say what it does with it.</summary>
/// <typeparam name="T">What comes of it.</typeparam>
public interface IEntityVisitor<out T>
{
    /// <summary>For a state list.</summary>
    T Of(StateList it);

    /// <summary>For a unit of the customer's own.</summary>
    T Of(OwnUnit it);

    /// <summary>Of a naming convention.</summary>
    T Of(NamingConvention it);

    /// <summary>For a scale of the library.</summary>
    T Of(LibraryScale it);

    /// <summary>For a template.</summary>
    T Of(Template it);

    /// <summary>For a node of the plant.</summary>
    T Of(Equipment it);

    /// <summary>For a controller.</summary>
    T Of(Controller it);

    /// <summary>For a layout of devices.</summary>
    T Of(DeviceLayout it);

    /// <summary>For a device whose tags are generated.</summary>
    T Of(Device it);

    /// <summary>For a tag.</summary>
    T Of(Tag it);

    /// <summary>For a binding.</summary>
    T Of(PropertyBinding it);

    /// <summary>For the calendar.</summary>
    T Of(SiteCalendar it);

    /// <summary>What alarms share.</summary>
    T Of(AlarmSetup it);
}
