// Looking through a server's address space.
import { performance } from 'node:perf_hooks';
import { setTimeout } from 'node:timers/promises';
import ua from 'node-opcua-client';
import { inCalls } from './calls.mjs';
import { plain } from './values.mjs';

const { AttributeIds, DataType, NodeClass, BrowseDirection } = ua;

const TYPE_DEFINITION = 'i=40';
const WANTED = 63;
/** What the standard itself puts below every server, which is no value of the plant: the server, and its aliases. */
const SERVER = ['ns=0;i=2253', 'ns=0;i=23470'];
/** Levels that are looked at; what stands deeper is told to have been left out. */
const DEEPEST = 200;
const OBJECTS = 'ns=0;i=85';
const LONGEST_BREATH_MS = 500;
/** Characters of a text that a list of nodes tells. */
const LONGEST_TOLD = 200;
const MOST_OBJECTS = 2000;
/** Properties of a variable that say what it is: OPC UA Part 8, 5.3.2 and 5.3.3. */
const SAID = ['EngineeringUnits', 'EURange', 'InstrumentRange', 'EnumStrings', 'EnumValues', 'TrueState', 'FalseState'];

/** Everything below some nodes, a level of each: references forward and hierarchical, with all continuation points followed. */
async function childrenOf(link, nodeIds, referenceTypeId = 'HierarchicalReferences') {
  return inCalls(link.limits, 'browse', nodeIds, async some => {
    const results = await link.session.browse(
      some.map(nodeId => ({
        nodeId,
        browseDirection: BrowseDirection.Forward,
        referenceTypeId,
        includeSubtypes: true,
        nodeClassMask:
          NodeClass.Object | NodeClass.Variable | (referenceTypeId === 'HierarchicalReferences' ? 0 : NodeClass.ObjectType),
        resultMask: WANTED,
      })),
    );
    const all = [];
    for (const result of results) {
      const references = [...(result.references ?? [])];
      let point = result.continuationPoint;
      while (point?.length > 0) {
        const next = await link.session.browseNext(point, false);
        references.push(...(next.references ?? []));
        point = next.continuationPoint;
      }
      all.push({ references, status: result.statusCode });
    }
    return all;
  });
}

/** Values of attributes, as many a call as the server takes. */
const readAll = (link, asked) => inCalls(link.limits, 'read', asked, some => link.session.read(some));

/**
 * Variables below a node, some at a time, breadth first. A node that is reached twice is told once, so a cycle ends. Their paths begin at
 * the objects folder, or at the node where that is asked for. What it returns says whether anything was left out, tooDeep.
 */
export function browseBelow(link, from, isRelative = false) {
  const begin = link.resolve(from);
  // A server has others to answer: it is left alone for as long as it has worked for us.
  let since = performance.now();
  const breathe = async () => {
    await setTimeout(Math.min(LONGEST_BREATH_MS, performance.now() - since));
    since = performance.now();
  };
  async function* walk() {
    since = performance.now();
    if (begin === null)
      throw Object.assign(new Error('the server has no such namespace'), { status: ua.StatusCodes.BadNodeIdUnknown.value });
    const seen = new Set([begin.toString()]);
    const path = isRelative ? [] : (await aboveOf(link, begin)).map(n => n.browseName);
    let level = [{ nodeId: begin, path, variable: null }];
    for (let depth = 0; level.length > 0 && depth < DEEPEST; depth++) {
      const next = [];
      const some = Math.max(1, Math.min(link.limits.browse, 200));
      for (let at = 0; at < level.length; at += some) {
        const parents = level.slice(at, at + some);
        const found = await childrenOf(
          link,
          parents.map(p => p.nodeId),
        );
        await breathe();
        const variables = [];
        found.forEach((answer, i) => {
          if (depth === 0 && !answer.status.isGood())
            throw Object.assign(new Error(answer.status.description), { status: answer.status.value });
          const parent = parents[i];
          for (const reference of answer.references) {
            const key = reference.nodeId.toString();
            if (SERVER.includes(key) || reference.nodeId.serverIndex > 0) continue;
            const name = reference.browseName.name ?? key;
            if (
              parent.variable &&
              reference.nodeClass === NodeClass.Variable &&
              SAID.includes(name) &&
              reference.browseName.namespaceIndex === 0
            ) {
              parent.variable.said[name] = reference.nodeId;
              continue;
            }
            if (seen.has(key)) continue;
            seen.add(key);
            const node = { nodeId: reference.nodeId, path: [...parent.path, name], variable: null };
            if (reference.nodeClass === NodeClass.Variable) {
              node.variable = { nodeId: reference.nodeId, path: node.path, said: {} };
              variables.push(node.variable);
            }
            next.push(node);
          }
        });
        // What a variable says of itself stands below it, so those of a level are told when the next has been looked at.
        const parentsThatVary = parents.filter(p => p.variable !== null).map(p => p.variable);
        if (parentsThatVary.length > 0) yield await describe(link, parentsThatVary);
        await breathe();
      }
      level = next;
    }
    if (level.length > 0) walking.tooDeep = true;
  }
  const walking = walk();
  return walking;
}

/** Objects and folders directly below a node, each with how much stands below it, and those above it, the topmost first. */
export async function levelOf(link, from) {
  const nodeId = link.resolve(from);
  if (nodeId === null)
    throw Object.assign(new Error('the server has no such namespace'), { status: ua.StatusCodes.BadNodeIdUnknown.value });
  const [{ references, status }] = await childrenOf(link, [nodeId]);
  if (!status.isGood()) throw Object.assign(new Error(status.description), { status: status.value });
  const objects = new Map();
  for (const reference of references)
    if (
      reference.nodeClass === NodeClass.Object &&
      !SERVER.includes(reference.nodeId.toString()) &&
      !(reference.nodeId.serverIndex > 0)
    )
      objects.set(reference.nodeId.toString(), reference);
  const some = [...objects.values()].slice(0, MOST_OBJECTS);
  const below = await childrenOf(
    link,
    some.map(r => r.nodeId),
  );
  return {
    above: await aboveOf(link, nodeId),
    more: objects.size - some.length,
    objects: some.map((r, i) => ({
      node: link.spell(r.nodeId),
      name: nameOf(r),
      objects: below[i].references.filter(b => b.nodeClass === NodeClass.Object).length,
      variables: below[i].references.filter(b => b.nodeClass === NodeClass.Variable).length,
    })),
  };
}

const nameOf = reference => reference.displayName?.text || reference.browseName.name || reference.nodeId.toString();

/** A node and what stands above it, up to the objects folder, by the first reference upwards of each. */
async function aboveOf(link, nodeId) {
  const [path, seen] = [[], new Set()];
  const [shown, named] = await link.session.read([
    { nodeId, attributeId: AttributeIds.DisplayName },
    { nodeId, attributeId: AttributeIds.BrowseName },
  ]);
  const browseName = named.value?.value?.name ?? nodeId.toString();
  let at = { nodeId, name: shown.value?.value?.text ?? browseName, browseName };
  while (at !== null && at.nodeId.toString() !== OBJECTS && !seen.has(at.nodeId.toString()) && path.length < DEEPEST) {
    seen.add(at.nodeId.toString());
    path.unshift({ node: link.spell(at.nodeId), name: at.name, browseName: at.browseName });
    const up = await link.session.browse({
      nodeId: at.nodeId,
      browseDirection: BrowseDirection.Inverse,
      referenceTypeId: 'HierarchicalReferences',
      includeSubtypes: true,
      nodeClassMask: NodeClass.Object | NodeClass.Variable,
      resultMask: WANTED,
    });
    const first = up.references?.[0];
    at =
      first === undefined
        ? null
        : { nodeId: first.nodeId, name: nameOf(first), browseName: first.browseName.name ?? first.nodeId.toString() };
  }
  return path;
}

const typesOf = new WeakMap();

/** The built-in type of a data type, and its name and members where it is an enumeration. */
async function dataType(link, nodeId) {
  if (!typesOf.has(link)) typesOf.set(link, new Map());
  const known = typesOf.get(link);
  const key = nodeId.toString();
  if (known.has(key)) return known.get(key);
  let builtIn = nodeId.namespace === 0 && nodeId.value <= 25 ? nodeId.value : DataType.Null;
  let [name, states] = ['', null];
  if (builtIn === DataType.Null) {
    const answers = await link.session.read([{ nodeId, attributeId: AttributeIds.BrowseName }]);
    name = answers[0].value?.value?.name ?? '';
    const [below] = await childrenOf(link, [nodeId], 'HasProperty');
    const property = below.references.find(r => ['EnumStrings', 'EnumValues'].includes(r.browseName.name));
    if (property !== undefined)
      states = statesOf((await link.session.read([{ nodeId: property.nodeId, attributeId: AttributeIds.Value }]))[0]);
    builtIn = await link.session.getBuiltInDataType(nodeId).catch(() => DataType.Null);
    if (builtIn === DataType.Null) builtIn = await baseOf(link, nodeId);
  }
  const found = { builtIn, name, states };
  known.set(key, found);
  return found;
}

/** The built-in type a data type comes from. */
async function baseOf(link, nodeId) {
  for (let at = nodeId, steps = 0; steps < 20; steps++) {
    if (at.namespace === 0 && at.value <= 25 && at.value > 0) return at.value;
    if (at.namespace === 0 && at.value === 29) return DataType.Int32;
    const result = await link.session.browse({
      nodeId: at,
      browseDirection: BrowseDirection.Inverse,
      referenceTypeId: 'HasSubtype',
      includeSubtypes: true,
      nodeClassMask: 0,
      resultMask: WANTED,
    });
    if (!(result.references?.length > 0)) return DataType.Null;
    at = result.references[0].nodeId;
  }
  return DataType.Null;
}

/** States by number: EnumStrings counts from 0, EnumValues says its numbers. */
function statesOf(answer) {
  const value = answer?.value?.value;
  if (!answer?.statusCode?.isGood() || !Array.isArray(value)) return null;
  return value.map((v, i) =>
    v?.displayName !== undefined ? [Number(plainNumber(v.value)), v.displayName?.text ?? ''] : [i, v?.text ?? ''],
  );
}

const plainNumber = v => plain({ dataType: DataType.Int64, value: v, arrayType: ua.VariantArrayType.Scalar });

/** What some variables say of themselves. */
async function describe(link, variables) {
  const attributes = [
    AttributeIds.Value,
    AttributeIds.DataType,
    AttributeIds.ValueRank,
    AttributeIds.ArrayDimensions,
    AttributeIds.UserAccessLevel,
    AttributeIds.Description,
  ];
  const asked = variables.flatMap(v => attributes.map(attributeId => ({ nodeId: v.nodeId, attributeId })));
  const answers = await readAll(link, asked);
  const extras = variables.flatMap(v => Object.entries(v.said).map(([name, nodeId]) => ({ v, name, nodeId })));
  const told =
    extras.length > 0
      ? await readAll(
          link,
          extras.map(e => ({ nodeId: e.nodeId, attributeId: AttributeIds.Value })),
        )
      : [];
  extras.forEach((e, i) => (e.v.said[e.name] = told[i]));
  const items = [];
  for (let i = 0; i < variables.length; i++) {
    const v = variables[i];
    const [value, type, rank, dimensions, access, description] = answers.slice(
      i * attributes.length,
      (i + 1) * attributes.length,
    );
    const its =
      type.statusCode.isGood() && type.value?.value
        ? await dataType(link, type.value.value)
        : { builtIn: DataType.Null, name: '', states: null };
    const now = plain(value.value);
    const actual = its.builtIn === DataType.Null || its.builtIn > 25 ? (value.value?.dataType ?? DataType.Null) : its.builtIn;
    const length = Array.isArray(now) ? now.length : (dimensions.value?.value?.[0] ?? 1);
    const unit = v.said.EngineeringUnits?.value?.value;
    const range = (v.said.EURange ?? v.said.InstrumentRange)?.value?.value;
    const states = statesOf(v.said.EnumValues) ?? statesOf(v.said.EnumStrings) ?? its.states ?? twoStates(v.said);
    items.push({
      node: link.spell(v.nodeId),
      path: v.path,
      type: DataType[actual] ?? 'Null',
      count: (rank.value?.value ?? -1) >= 0 || Array.isArray(now) ? Math.max(1, Number(length)) : 1,
      value: Array.isArray(now) ? now.slice(0, 8).map(brief) : brief(now),
      status: value.statusCode.value,
      access: access.statusCode.isGood() ? Number(access.value?.value ?? 0) : 0,
      description: description.value?.value?.text ?? '',
      unit: unit ? { id: unit.unitId, uri: unit.namespaceUri ?? '', text: unit.displayName?.text ?? '' } : null,
      range: range && Number.isFinite(range.low) && Number.isFinite(range.high) ? [range.low, range.high] : null,
      states,
      enumeration: its.states !== null ? its.name : '',
    });
  }
  return items;
}

const brief = value => (typeof value === 'string' && value.length > LONGEST_TOLD ? `${value.slice(0, LONGEST_TOLD)}…` : value);

function twoStates(said) {
  const [off, on] = [said.FalseState?.value?.value?.text, said.TrueState?.value?.value?.text];
  return off && on
    ? [
        [0, off],
        [1, on],
      ]
    : null;
}

/** An object or object type as a tree: variables with what they say, parts with their own types. A type is looked at once. */
export async function structureOf(link, node) {
  const nodeId = link.resolve(node);
  if (nodeId === null)
    throw Object.assign(new Error('the server has no such namespace'), { status: ua.StatusCodes.BadNodeIdUnknown.value });
  const [nodeClass, browseName] = await link.session.read([
    { nodeId, attributeId: AttributeIds.NodeClass },
    { nodeId, attributeId: AttributeIds.BrowseName },
  ]);
  if (!nodeClass.statusCode.isGood())
    throw Object.assign(new Error(nodeClass.statusCode.description), { status: nodeClass.statusCode.value });
  const isType = nodeClass.value.value === NodeClass.ObjectType;
  const types = new Map();
  const type = isType ? await takeType(link, nodeId, types, 0) : await definitionOf(link, nodeId, types, 0);
  return {
    name: browseName.value?.value?.name ?? '',
    type,
    types: [...types.values()],
    instances: type === null ? [] : await instancesOf(link, type, types),
  };
}

async function definitionOf(link, nodeId, types, depth) {
  const [below] = await childrenOf(link, [nodeId], TYPE_DEFINITION);
  const type = below.references[0]?.nodeId;
  // The standard's own base types and folders say nothing of a plant.
  if (type === undefined || (type.namespace === 0 && [58, 61].includes(type.value))) return null;
  return takeType(link, type, types, depth);
}

async function takeType(link, nodeId, types, depth) {
  const key = link.spell(nodeId);
  if (types.has(key) || depth > 8) return key;
  const its = { node: key, name: '', base: null, variables: [], parts: [] };
  types.set(key, its);
  const [name, description] = await link.session.read([
    { nodeId, attributeId: AttributeIds.BrowseName },
    { nodeId, attributeId: AttributeIds.Description },
  ]);
  its.name = name.value?.value?.name ?? key;
  its.description = description.value?.value?.text ?? '';
  const up = await link.session.browse({
    nodeId,
    browseDirection: BrowseDirection.Inverse,
    referenceTypeId: 'HasSubtype',
    includeSubtypes: true,
    nodeClassMask: 0,
    resultMask: WANTED,
  });
  const base = up.references?.[0]?.nodeId;
  if (base !== undefined && !(base.namespace === 0)) its.base = await takeType(link, base, types, depth + 1);
  await takeMembers(link, nodeId, its, types, [], depth);
  return key;
}

/** Variables and parts directly below a type; what stands in a folder of it counts as its own, by path. */
async function takeMembers(link, nodeId, its, types, path, depth) {
  const [below] = await childrenOf(link, [nodeId]);
  const variables = [];
  for (const reference of below.references) {
    const name = reference.browseName.name ?? '';
    if (reference.nodeClass === NodeClass.Variable) {
      if (reference.browseName.namespaceIndex === 0) continue;
      const [said] = await childrenOf(link, [reference.nodeId], 'HasProperty');
      const of = Object.fromEntries(
        said.references.filter(r => SAID.includes(r.browseName.name)).map(r => [r.browseName.name, r.nodeId]),
      );
      variables.push({ nodeId: reference.nodeId, path: [...path, name], said: of });
    } else if (reference.nodeClass === NodeClass.Object) {
      const type = await definitionOf(link, reference.nodeId, types, depth + 1);
      if (type !== null) its.parts.push({ path: [...path, name], type });
      else if (path.length < 3) await takeMembers(link, reference.nodeId, its, types, [...path, name], depth + 1);
    }
  }
  if (variables.length > 0) its.variables.push(...(await describe(link, variables)));
}

/** The object types of a server that are none of the standard's own, with how many objects are of each. */
export async function objectTypesOf(link) {
  const [types, seen] = [[], new Set()];
  let level = [ua.resolveNodeId('i=58')];
  while (level.length > 0 && seen.size < 5000) {
    const answers = await childrenOf(link, level, 'HasSubtype');
    level = [];
    for (const answer of answers)
      for (const reference of answer.references) {
        const key = reference.nodeId.toString();
        if (reference.nodeClass !== NodeClass.ObjectType || seen.has(key)) continue;
        seen.add(key);
        level.push(reference.nodeId);
        if (reference.nodeId.namespace !== 0)
          types.push({ node: link.spell(reference.nodeId), name: reference.browseName.name ?? key, objects: 0 });
      }
  }
  const byNode = new Map(types.map(t => [t.node, t]));
  await eachObject(link, reference => {
    const its = reference.typeDefinition ? byNode.get(link.spell(reference.typeDefinition)) : undefined;
    if (its !== undefined) its.objects++;
  });
  return types;
}

/** Every object below the objects folder, once, with the names that lead to it. */
async function eachObject(link, take) {
  const seen = new Set();
  let level = [{ nodeId: link.resolve('i=85'), path: [] }];
  for (let depth = 0; level.length > 0 && depth < DEEPEST && seen.size < 200_000; depth++) {
    const answers = await childrenOf(
      link,
      level.map(l => l.nodeId),
    );
    const next = [];
    answers.forEach((answer, i) => {
      for (const reference of answer.references) {
        const key = reference.nodeId.toString();
        if (reference.nodeClass !== NodeClass.Object || SERVER.includes(key) || seen.has(key)) continue;
        seen.add(key);
        const path = [...level[i].path, reference.browseName.name ?? key];
        take(reference, path);
        next.push({ nodeId: reference.nodeId, path });
      }
    });
    level = next;
  }
}

/** The objects of a type, with the nodes of their variables by path. */
async function instancesOf(link, type, types) {
  const wanted = new Set([type]);
  for (let more = true; more;) {
    more = false;
    for (const t of types.values())
      if (t.base !== null && wanted.has(t.base) && !wanted.has(t.node)) more = Boolean(wanted.add(t.node));
  }
  const found = [];
  await eachObject(link, (reference, path) => {
    const its = reference.typeDefinition ? link.spell(reference.typeDefinition) : null;
    if (its !== null && wanted.has(its) && found.length < MOST_OBJECTS) found.push({ nodeId: reference.nodeId, path, type: its });
  });
  const all = [];
  for (const object of found) {
    const variables = [];
    for await (const some of browseBelow(link, link.spell(object.nodeId), true)) variables.push(...some);
    all.push({ path: object.path, node: link.spell(object.nodeId), type: object.type, variables });
  }
  return all;
}
