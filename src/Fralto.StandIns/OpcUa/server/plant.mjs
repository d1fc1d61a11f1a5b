// What the server has: folders, typed objects, variables with units and ranges.
import { DataType, VariantArrayType } from 'node-opcua-variant';
import { StatusCodes } from 'node-opcua-status-code';

/** The namespace of the utilities. */
export const Own = 'urn:corvane:utilities';

const UNECE = 'http://www.opcfoundation.org/UA/units/un/cefact';
const unit = (id, symbol, name) => ({
  namespaceUri: UNECE,
  unitId: id,
  displayName: { text: symbol },
  description: { text: name },
});

// OPC UA Part 8, clause 5.6.4.3: the bytes of the UNECE code.
const UNITS = {
  bar: unit(4342098, 'bar', 'bar'),
  A: unit(4279632, 'A', 'ampere'),
  C: unit(4408652, '°C', 'degree Celsius'),
  m3h: unit(5067080, 'm³/h', 'cubic metre per hour'),
  m: unit(5067858, 'm', 'metre'),
  h: unit(4740434, 'h', 'hour'),
};

const STATES = ['Stopped', 'Starting', 'Running', 'Unloaded', 'Tripped'];

/** Builds the address space. */
export function build(space, { isReordered, many, written }) {
  if (isReordered) space.registerNamespace('urn:corvane:put-in-between');
  const own = space.registerNamespace(Own);
  const variables = new Map();
  const commanded = new Set();

  const enumeration = own.addEnumerationType({ browseName: 'CompressorState', enumeration: STATES.map(s => s) });
  const motorType = own.addObjectType({ browseName: 'MotorType', description: 'A motor, as its starter sees it' });
  const pumpType = own.addObjectType({ browseName: 'PumpType', description: 'A pump with its motor' });
  const compressorType = own.addObjectType({ browseName: 'CompressorType', description: 'Keeps the air net at pressure' });

  /** Nodes are named after the key of their object; members of a type are numbered. */
  const named = (key, name) => (key ? { nodeId: `s=${key}.${name}` } : {});

  const analog = (parent, name, description, kind, high, units, more = {}) =>
    own.addAnalogDataItem({
      componentOf: parent,
      browseName: name,
      description,
      dataType: kind,
      engineeringUnitsRange: { low: 0, high },
      engineeringUnits: units,
      accessLevel: 'CurrentRead',
      userAccessLevel: 'CurrentRead',
      value: { dataType: kind, value: 0 },
      ...more,
    });
  const typed = { modellingRule: 'Mandatory' };
  for (const [type, members] of [
    [motorType, (p, more, of) => motor(p, more, of)],
    [pumpType, (p, more, of) => pump(p, more, of)],
    [compressorType, (p, more, of) => compressor(p, more, of)],
  ])
    members(type, typed, null);

  /** Keeps a variable under its name in the simulation. */
  function keep(key, variable, kind, toValue = v => v) {
    if (key === null) return;
    variables.set(key, { variable, kind, toValue });
  }

  function motor(parent, more, key) {
    const run = own.addVariable({
      componentOf: parent,
      browseName: 'Run',
      description: 'Runs',
      dataType: 'Boolean',
      accessLevel: 'CurrentRead',
      userAccessLevel: 'CurrentRead',
      value: { dataType: DataType.Boolean, value: false },
      ...named(key, 'Motor.Run'),
      ...more,
    });
    keep(key && `${key}.Run`, run, DataType.Boolean, Boolean);
    if (key === 'LP2') return;
    keep(
      key && `${key}.Current`,
      analog(parent, 'Current', 'Motor current', 'Double', 60, UNITS.A, { ...named(key, 'Motor.Current'), ...more }),
      DataType.Double,
    );
  }

  function pump(parent, more, key) {
    if (key === null) own.addObject({ componentOf: parent, browseName: 'Motor', typeDefinition: motorType, ...more });
    else motor(own.addObject({ componentOf: parent, browseName: 'Motor', typeDefinition: motorType }), {}, key);
    // One pump says litres a minute although it counts cubic metres an hour: an honest mistake.
    const wrong = key === 'RWP2' ? unit(19506, 'l/min', 'litre per minute') : UNITS.m3h;
    keep(
      key && `${key}.Flow`,
      analog(parent, 'Flow', 'Flow', 'Float', 120, wrong, { ...named(key, 'Flow'), ...more }),
      DataType.Float,
    );
  }

  function compressor(parent, more, key) {
    if (key === null) own.addObject({ componentOf: parent, browseName: 'Motor', typeDefinition: motorType, ...more });
    else motor(own.addObject({ componentOf: parent, browseName: 'Motor', typeDefinition: motorType }), {}, key);
    keep(
      key && `${key}.Pressure`,
      analog(parent, 'Pressure', 'Pressure behind the compressor', 'Double', 10, UNITS.bar, {
        ...named(key, 'Pressure'),
        ...more,
      }),
      DataType.Double,
    );
    const setpoint = analog(parent, 'Setpoint', 'Pressure it holds', 'Double', 10, UNITS.bar, {
      ...named(key, 'Setpoint'),
      accessLevel: 'CurrentRead | CurrentWrite',
      userAccessLevel: 'CurrentRead | CurrentWrite',
      ...more,
    });
    keep(key && `${key}.Setpoint`, setpoint, DataType.Double);
    if (key !== null) {
      setpoint.on('value_changed', value => {
        if (setpoint.fromOutside === false) return;
        // What an operator has written is his; the simulation hears of it and does not say its own again.
        commanded.add(`${key}.Setpoint`);
        written(`${key}.Setpoint`, value.value.value);
      });
    }
    const state = own.addVariable({
      componentOf: parent,
      browseName: 'State',
      description: 'What it does',
      dataType: enumeration,
      accessLevel: 'CurrentRead',
      userAccessLevel: 'CurrentRead',
      value: { dataType: DataType.Int32, value: 0 },
      ...named(key, 'State'),
      ...more,
    });
    keep(key && `${key}.State`, state, DataType.Int32, Math.trunc);
    const stages = own.addVariable({
      componentOf: parent,
      browseName: 'StageTemperatures',
      description: 'Behind the first, second and third stage, °C',
      dataType: 'Float',
      valueRank: 1,
      arrayDimensions: [3],
      value: { dataType: DataType.Float, arrayType: VariantArrayType.Array, value: new Float32Array(3) },
      ...named(key, 'StageTemperatures'),
      ...more,
    });
    if (key !== null) variables.set(`${key}.Stages`, { variable: stages, kind: DataType.Float, isArray: true });
    const hours = analog(parent, 'Hours', 'Running hours', 'UInt32', 200000, UNITS.h, { ...named(key, 'Hours'), ...more });
    keep(key && `${key}.Hours`, hours, DataType.UInt32, Math.trunc);
  }

  const root = own.addFolder('ObjectsFolder', { browseName: 'Utilities' });
  const air = own.addFolder(root, { browseName: 'CompressedAir' });
  const water = own.addFolder(root, { browseName: 'Water' });
  const heat = own.addFolder(root, { browseName: 'HeatLoop' });
  const place = (folder, name, type, key, members) => {
    const object = own.addObject({ organizedBy: folder, browseName: name, typeDefinition: type, nodeId: `s=${key}` });
    members(object, {}, key);
    return object;
  };
  for (const n of [1, 2]) {
    const object = place(air, `Compressor${n}`, compressorType, `CMP${n}`, compressor);
    const reset = own.addMethod(object, { browseName: 'ResetHours', inputArguments: [], outputArguments: [] });
    reset.bindMethod((inputs, context, done) => done(null, { statusCode: StatusCodes.BadUserAccessDenied }));
  }
  for (const n of [1, 2]) place(water, `RawWaterPump${n}`, pumpType, `RWP${n}`, pump);
  for (const n of [1, 2]) place(heat, `LoopPump${n}`, pumpType, `LP${n}`, pump);
  const tank = own.addObject({ organizedBy: water, browseName: 'BrineTank', nodeId: 's=Brine' });
  keep('Brine.Level', analog(tank, 'Level', 'Level of brine', 'Double', 5, UNITS.m, named('Brine', 'Level')), DataType.Double);
  keep(
    'Brine.Temperature',
    analog(tank, 'Temperature', 'Temperature of brine', 'Double', 60, UNITS.C, named('Brine', 'Temperature')),
    DataType.Double,
  );
  keep(
    'Loop.Supply',
    analog(heat, 'SupplyTemperature', 'Water to the heat exchangers', 'Double', 120, UNITS.C, named('Loop', 'Supply')),
    DataType.Double,
  );
  keep(
    'Loop.Return',
    analog(heat, 'ReturnTemperature', 'Water back from them', 'Double', 120, UNITS.C, named('Loop', 'Return')),
    DataType.Double,
  );
  own.addVariable({
    componentOf: root,
    browseName: 'ServiceCode',
    description: 'Code of the service technician',
    dataType: 'String',
    accessLevel: 'CurrentRead',
    userAccessLevel: '',
    value: { dataType: DataType.String, value: 'no' },
  });
  if (many > 0) {
    const field = own.addFolder(root, { browseName: 'Field' });
    for (let i = 0; i < many; i++) {
      const group = i % 100 === 0 ? own.addFolder(field, { browseName: `Group${i / 100}` }) : field.last;
      field.last = group;
      const v = own.addVariable({
        componentOf: group,
        browseName: `V${i}`,
        nodeId: `s=F.${i}`,
        dataType: 'Double',
        value: { dataType: DataType.Double, value: i },
      });
      variables.set(`F.${i}`, { variable: v, kind: DataType.Double, toValue: x => x });
    }
  }

  return {
    take(values) {
      for (const [key, value] of Object.entries(values)) {
        const its = variables.get(key);
        if (its === undefined || commanded.has(key) || (its.isBad && key === 'CMP1.Pressure')) continue;
        its.variable.fromOutside = false;
        its.variable.setValueFromSource(
          its.isArray
            ? { dataType: its.kind, arrayType: VariantArrayType.Array, value: Float32Array.from(value) }
            : { dataType: its.kind, value: its.toValue(value) },
        );
        its.variable.fromOutside = true;
      }
    },
    bad(on) {
      const its = variables.get('CMP1.Pressure');
      its.isBad = on;
      its.variable.setValueFromSource(
        { dataType: DataType.Double, value: 0 },
        on ? StatusCodes.BadSensorFailure : StatusCodes.Good,
      );
    },
  };
}
