import { api, type Group, readAt } from '../api/client';
import { useGroups } from '../parts/records';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

/** Groups of customers who have prices of their own. */
export function GroupSetup() {
  return (
    <RecordTable<Group>
      kind="groups"
      what="group"
      alone
      rows={useGroups().data?.rows}
      nameOf={(g) => g.name}
      blank={{ name: '' }}
      empty="Customers who have prices of their own: builders, the trade. Each article may have a price for a group; a customer’s details say to which it belongs."
      columns={[
        { title: 'Name', cell: (g) => g.name, text: (g) => g.name },
        { title: 'In use', cell: used, text: used },
      ]}
      save={(g) =>
        g.id
          ? api.PUT('/api/v1/groups/{id}', { params: { path: { id: g.id }, header: readAt(g.version) }, body: g })
          : api.POST('/api/v1/groups', { body: g })
      }
      form={(g, change, refused) => (
        <>
          <Text
            label="Name"
            field="name"
            value={g.name}
            onChange={(name) => change({ name })}
            error={refused('name')}
            autoFocus
          />
          <InUse inactive={g.inactive} onChange={(inactive) => change({ inactive })} />
        </>
      )}
    />
  );
}
