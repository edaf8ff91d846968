// The bar at the top: the mark, where I am, who else is here, what is saved, and the way out.
import { useQueryClient } from '@tanstack/react-query';
import { Button, Popconfirm } from 'antd';
import { type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Me, client, get } from '@/shared/api/client';
import { becomeSomebody } from '@/shared/api/session';
import { closeOutboxes, countWaiting } from '@/shared/queue/outboxes';
import { ColoursChooser } from './ColoursChooser';
import mark from './mark.svg';
import './bar.css';

export function Bar({ me, where, children }: { me: Me; where: ReactNode; children?: ReactNode }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [waiting, setWaiting] = useState(0);
  const leave = () => {
    setWaiting(0);
    void get(client.POST('/api/sign-out')).then((next) => {
      closeOutboxes();
      becomeSomebody(queries, next);
      // whoever sits down here next begins at the beginning
      void navigate('/', { replace: true });
    });
  };
  const ask = () =>
    void countWaiting(me.id).then((count) => {
      if (count) setWaiting(count);
      else leave();
    });
  return (
    <header className="bar">
      <Link to="/" className="bar-mark" aria-label="Hobrel, to the start page">
        <img src={mark} alt="" width="24" height="24" />
        <b>Hobrel</b>
      </Link>
      <div className="bar-where">{where}</div>
      <div className="bar-right">
        {children}
        {me.role === 'teacher' && (
          <Link to="/school" className="bar-school">
            School
          </Link>
        )}
        <ColoursChooser />
        <span className="bar-me">{me.name}</span>
        <Popconfirm
          open={waiting > 0}
          placement="bottomRight"
          title={`${waiting === 1 ? 'One change is' : `${waiting} changes are`} not kept by the server yet.`}
          description="They stay on this computer, for you alone, and are sent when you sign in here again."
          okText="Sign out"
          cancelText="Stay"
          onConfirm={leave}
          onCancel={() => setWaiting(0)}
        >
          <Button size="small" type="text" className="bar-leave" onClick={ask}>
            Sign out
          </Button>
        </Popconfirm>
      </div>
    </header>
  );
}
