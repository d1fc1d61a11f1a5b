// What a server may be like and seldom is: what the stand-in has beside its plant when it is asked to be odd.
import { DataType, Variant, VariantArrayType } from 'node-opcua-variant';
import { StatusCodes } from 'node-opcua-status-code';

const LEVELS = 80;
const HOUR_MS = 3_600_000;
const TAKEN = 40;
const SAID = 100_000;
/** Where OPC UA Part 5 (node numbers from memory) keeps what a server takes in one call: to read, write, browse, monitor. */
const LIMITS = ['i=11705', 'i=11707', 'i=11710', 'i=11714'];

/** The limits that hold, which are far below those that are told. */
export const truth = {
  maxNodesPerRead: TAKEN,
  maxNodesPerBrowse: TAKEN,
  maxMonitoredItemsPerCall: TAKEN,
  maxNodesPerWrite: TAKEN,
};

export function addOddities(space, own) {
  for (const limit of LIMITS)
    space.findNode(limit).bindVariable({ get: () => new Variant({ dataType: DataType.UInt32, value: SAID }) }, true);
  const odd = own.addFolder('ObjectsFolder', { browseName: 'Odd', nodeId: 's=Odd' });
  const variable = (folder, name, dataType, value) =>
    own.addVariable({
      componentOf: folder,
      browseName: name,
      nodeId: `s=Odd.${name}`,
      dataType: DataType[dataType],
      accessLevel: 'CurrentRead | CurrentWrite',
      userAccessLevel: 'CurrentRead | CurrentWrite',
      value: { dataType, value, arrayType: VariantArrayType.Scalar },
    });
  // Deep, with a value at the bottom.
  let at = odd;
  for (let level = 1; level <= LEVELS; level++) at = own.addFolder(at, { browseName: `L${level}`, nodeId: `s=Odd.L${level}` });
  variable(at, 'Bottom', DataType.Double, 80);
  // Two that stand below one another.
  const here = own.addFolder(odd, { browseName: 'Here', nodeId: 's=Odd.Here' });
  const there = own.addFolder(here, { browseName: 'There', nodeId: 's=Odd.There' });
  there.addReference({ referenceType: 'Organizes', nodeId: here });
  variable(there, 'Round', DataType.Double, 1);
  variable(odd, 'Long', DataType.String, 'x'.repeat(65_536));
  variable(odd, 'Wide', DataType.Int64, [0x001fffff, 0xffffffff]);
  variable(odd, "ns=2;s=odd; name | element 1 %3B 'ü'", DataType.Double, 4);
  // Its clock is an hour ahead.
  const ahead = variable(odd, 'Ahead', DataType.Double, 0);
  let tick = 0;
  const timer = setInterval(
    () =>
      ahead.setValueFromSource({ dataType: DataType.Double, value: ++tick }, StatusCodes.Good, new Date(Date.now() + HOUR_MS)),
    200,
  );
  space.registerShutdownTask(() => clearInterval(timer));
  // What a client writes is shown a while later, as a gateway does that reads its device back in its own time.
  shows('Late', (value, show) => setTimeout(() => show(value), 700));
  // And some say that they take what they never show.
  shows('Deaf', () => {});

  function shows(name, taken) {
    let shown = 0;
    variable(odd, name, DataType.Double, 0).bindVariable(
      {
        get: () => new Variant({ dataType: DataType.Double, value: shown }),
        set: (value, done) => {
          taken(value.value, its => (shown = its));
          done(null, StatusCodes.Good);
        },
      },
      true,
    );
  }
}
